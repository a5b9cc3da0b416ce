package org.cleanmarrow.checks;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.kit.NestedBalls;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.Pixels;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.intake.Combine;
import org.cleanmarrow.steps.skin.Cover;
import org.cleanmarrow.steps.skin.MarkRegions;
import org.cleanmarrow.steps.skin.SetRegion;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** What the checks of what is worn find: faces that nobody sees, hard pieces that bend, triangles of no region. */
public class WornChecksTest {
    private static final Target TARGET = Target.named("y-up-m-rh").orElseThrow();

    private static List<Finding> found(Asset asset, String check, Target target) {
        return Checks.ALL.stream()
                .filter(c -> c.id().equals(check))
                .flatMap(c -> c.run(new Examination(asset, target)).stream())
                .toList();
    }

    private static Asset done(Asset asset, Step step) throws Refused {
        return step.apply(asset, Work.QUIET).asset();
    }

    /** A ball in a bowl: what lies below the rim is seen from nowhere, but for what one sees down its slit. */
    private static Asset bowl(double rim) {
        Asset balls = NestedBalls.of(0, 1.02);
        Primitive coat = balls.meshes().get(1).primitives().getFirst();
        int[] corners = coat.triangleCorners();
        int[] low = IntStream.range(0, corners.length / 3)
                .filter(t -> IntStream.range(0, 3).allMatch(i -> coat.positions()[corners[3 * t + i] * 3 + 1] < rim))
                .flatMap(t -> IntStream.of(corners[3 * t], corners[3 * t + 1], corners[3 * t + 2]))
                .toArray();
        return balls.withMesh(1, balls.meshes().get(1).withPrimitives(List.of(Subset.ofTriangles(coat, low))))
                .withClips(List.of());
    }

    @Test
    public void whatABowlHidesIsFoundAndTakenOut() throws Exception {
        Asset asset = bowl(0.4);
        Target few = TARGET.with(Budget.UNSEEN_TRIANGLES, 100);
        assertThat(found(asset, "unseen", TARGET))
                .as("a target that does not ask")
                .isEmpty();
        List<Finding> found = found(asset, "unseen", few);
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().message().toString()).contains("skin under coat", "100 are allowed");
        float[] at = asset.meshes().getFirst().primitives().getFirst().positions();
        // Down the slit of 2 cm a grazing look goes some way: to where the chord touches the ball, acos(1 / 1.02).
        double deepest = 0.4 - Math.sin(Math.acos(1 / 1.02)) - 0.1;
        BitSet hidden = found.getFirst().place().vertices();
        assertThat(hidden.stream().allMatch(v -> at[v * 3 + 1] < 0.4)).isTrue();
        assertThat(IntStream.range(0, at.length / 3)
                        .filter(v -> at[v * 3 + 1] < deepest)
                        .allMatch(hidden::get))
                .isTrue();
        Asset mended = done(asset, found.getFirst().fix().orElseThrow());
        assertThat(mended.meshes().getFirst().triangleCount())
                .isEqualTo(asset.meshes().getFirst().triangleCount()
                        - (int) found.getFirst().count());
        assertThat(found(NestedBalls.of(0, 1.02), "unseen", few))
                .as("a ball that is hidden all over is for a person to leave out")
                .singleElement()
                .matches(f -> f.fix().isEmpty());
    }

    /** The ball laid out by longitude and height, so that half of the picture is what the bowl hides. */
    private static Asset laidOut(Asset asset, int material) {
        Mesh skin = asset.meshes().getFirst();
        Primitive p = skin.primitives().getFirst();
        float[] uv = new float[p.vertexCount() * 2];
        for (int v = 0; v < p.vertexCount(); v++) {
            float[] at = p.positions();
            uv[2 * v] = (float) (0.5 + Math.atan2(at[3 * v + 2], at[3 * v]) / (2 * Math.PI));
            uv[2 * v + 1] = (1 - at[3 * v + 1]) / 2;
        }
        List<Attribute> attributes = new ArrayList<>(p.attributes());
        attributes.add(new Attribute("TEXCOORD_0", 2, uv, Storage.FLOAT));
        return asset.withMesh(
                0, skin.withPrimitives(List.of(p.withAttributes(attributes).withMaterial(material))));
    }

    /** The same with no joint to pose it by: what is asked of masks does not depend on poses. */
    private static Asset still(Asset asset) {
        List<Node> nodes = List.of(
                Node.group("skin", Local.IDENTITY).withMesh(0, -1),
                Node.group("coat", Local.IDENTITY).withMesh(1, -1));
        return Asset.of("still", asset.conventions(), nodes, asset.meshes(), List.of(), List.of())
                .withMaterials(asset.materials());
    }

    private static Pixels.Some mask(Asset asset) {
        int material = asset.meshes().getFirst().primitives().getFirst().material();
        TextureUse use = asset.materials().get(material).textures().stream()
                .filter(u -> u.slot().equals(TextureUse.COVER))
                .findFirst()
                .orElseThrow();
        byte[] png =
                asset.images().get(asset.textures().get(use.texture()).image()).bytes();
        return Pixels.some(png, Integer.MAX_VALUE).orElseThrow();
    }

    private static long white(Pixels.Some picture) {
        return Arrays.stream(picture.argb()).filter(p -> p == 0xFFFFFFFF).count();
    }

    @Test
    public void aMaskIsWhiteBelowTheRimAndAddsUp() throws Exception {
        Material paint = new Material("paint", new float[] {1, 1, 1, 1}, -1, false, Passthrough.NONE);
        Asset asset = still(laidOut(bowl(0.4), 0).withMaterials(List.of(paint)));
        Cover cover = new Cover("skin", "coat", 0, Cover.As.TEXTURE, 0, 256);
        Change change = cover.apply(asset, Work.QUIET);
        Asset masked = change.asset();
        assertThat(change.counts().toString()).contains("triangles whole in the picture");
        Pixels.Some picture = mask(masked);
        assertThat(picture.width()).isEqualTo(256);
        // Height 0.4 is row 0.3 of the picture; nothing above it is hidden, and deep below it nearly all is.
        assertThat(IntStream.range(0, 76 * 256).allMatch(i -> picture.argb()[i] == 0xFF000000))
                .isTrue();
        assertThat(IntStream.range(130 * 256, 250 * 256)
                        .filter(i -> picture.argb()[i] == 0xFFFFFFFF)
                        .count())
                .isGreaterThan((long) (0.95 * 120 * 256));
        assertThat(masked.materials()).hasSize(1);
        // Another cover on top: what was hidden stays so, in the same picture.
        Asset less = masked.withMesh(1, bowl(-0.6).meshes().get(1));
        Asset twice = done(less, cover);
        assertThat(twice.images()).hasSize(1);
        assertThat(white(mask(twice))).isEqualTo(white(picture));
        assertThat(white(mask(done(asset.withMesh(1, bowl(-0.6).meshes().get(1)), cover))))
                .isPositive()
                .isLessThan(white(picture) / 2);
        // A material that the coat has too is made the body's own.
        Mesh coat = asset.meshes().get(1);
        Asset shared = asset.withMesh(
                1, coat.withPrimitives(List.of(coat.primitives().getFirst().withMaterial(0))));
        Asset own = done(shared, cover);
        assertThat(own.materials()).extracting(Material::name).containsExactly("paint", "paint_skin");
        assertThat(own.materials().getFirst().textures()).isEmpty();
        assertThat(own.meshes().get(1).primitives().getFirst().material()).isZero();
        assertThat(mask(own).argb()).isEqualTo(picture.argb());
        // Painted with nothing, it gets a material to bear it.
        assertThat(mask(done(still(laidOut(bowl(0.4), -1)), cover)).argb()).isEqualTo(picture.argb());
        assertThatThrownBy(() -> done(still(bowl(0.4)), cover)).hasMessageContaining("texture coordinates");
        assertThatThrownBy(() -> done(asset, new Cover("skin", "coat", 0, Cover.As.TEXTURE, 0, 8)))
                .hasMessageContaining("16 to 4096");
    }

    private static Asset coated(Asset balls, String pbr) {
        Mesh coat = balls.meshes().get(1);
        Material metal = new Material("brass", new float[] {1, 1, 1, 1}, -1, false, new Passthrough(pbr));
        Primitive p = coat.primitives().getFirst().withMaterial(0);
        Influences.Builder rows = new Influences.Builder(p.vertexCount());
        for (int v = 0; v < p.vertexCount(); v++) {
            double over = (1 + p.positions()[v * 3 + 1] / 1.02) / 2;
            rows.add(0, (float) over);
            rows.add(1, (float) (1 - over));
            rows.endRow();
        }
        return balls.withMesh(1, coat.withPrimitives(List.of(p.withInfluences(rows.build()))))
                .withMaterials(List.of(metal));
    }

    @Test
    public void metalThatBendsIsFoundAndMadeRigid() throws Exception {
        Asset hung = NestedBalls.hung(0.5, 1.02);
        Asset bending = coated(hung, "{\"pbrMetallicRoughness\":{\"metallicFactor\":1}}");
        List<Finding> found = found(bending, "hard-bends", TARGET);
        assertThat(found).hasSize(1);
        assertThat(found.getFirst().message().toString()).startsWith("A piece of coat in metal bends");
        assertThat(found.getFirst().place().vertices().cardinality())
                .isEqualTo(bending.meshes().get(1).vertexCount());
        assertThat(found(done(bending, found.getFirst().fix().orElseThrow()), "hard-bends", TARGET))
                .isEmpty();
        for (String soft : List.of("{}", "{\"pbrMetallicRoughness\":{\"metallicFactor\":0.4}}")) {
            assertThat(found(coated(hung, soft), "hard-bends", TARGET)).isEmpty();
        }
        // Cloth with a strip of metal in it is cloth.
        Mesh coat = bending.meshes().get(1);
        Primitive whole = coat.primitives().getFirst();
        int half = whole.triangleCorners().length / 6 * 3;
        Primitive one = Subset.ofTriangles(whole, Arrays.copyOf(whole.triangleCorners(), half));
        Primitive other = Subset.ofTriangles(
                        whole, Arrays.copyOfRange(whole.triangleCorners(), half, whole.triangleCorners().length))
                .withMaterial(-1);
        assertThat(found(bending.withMesh(1, coat.withPrimitives(List.of(one, other))), "hard-bends", TARGET))
                .isEmpty();
    }

    @Test
    public void trianglesOfNoRegionAreFoundAndMarkedWithoutTouchingTheOthers() throws Exception {
        Asset figure = StickFigure.of(1.8);
        String part = figure.meshRef(0);
        assertThat(found(figure, "regions", TARGET)).as("no regions at all").isEmpty();
        Asset marked = done(figure, new MarkRegions(part));
        assertThat(found(marked, "regions", TARGET)).isEmpty();
        // By hand, against what the joints say; then a part joined to it that has none.
        BitSet three = new BitSet();
        three.set(0, 3);
        Mesh mesh = marked.meshes().getFirst();
        Asset handed = done(marked, new SetRegion(part, VertexSet.chosen(mesh, three), "right-foot"));
        assertThat(RegionMarks.of(handed.meshes().getFirst()))
                .startsWith(BodyRegion.RIGHT_FOOT, BodyRegion.RIGHT_FOOT, BodyRegion.RIGHT_FOOT);
        Mesh bare = handed.meshes().getFirst();
        Primitive p = bare.primitives().getFirst();
        Attribute numbers = p.attribute(RegionMarks.ATTRIBUTE).orElseThrow();
        float[] broken = numbers.values().clone();
        int last = broken.length - 3;
        broken[last] = 99;
        broken[last + 1] = -1;
        broken[last + 2] = 0.5f;
        List<Attribute> attributes = p.attributes().stream()
                .map(a -> a == numbers ? new Attribute(a.name(), 1, broken, Storage.FLOAT) : a)
                .toList();
        Asset faulty = handed.withMesh(0, bare.withPrimitives(List.of(p.withAttributes(attributes))));
        Finding found = found(faulty, "regions", TARGET).getFirst();
        assertThat(found.message().toString())
                .isEqualTo("1 of " + p.triangleCorners().length / 3 + " triangles of " + part
                        + " belong to no region of the body");
        assertThat(found.place().vertices().stream().boxed()).containsExactly(last, last + 1, last + 2);
        Asset mended = done(faulty, found.fix().orElseThrow());
        assertThat(RegionMarks.of(mended.meshes().getFirst()))
                .as("what was set by hand stays")
                .isEqualTo(RegionMarks.of(handed.meshes().getFirst()));
        assertThatThrownBy(() -> done(figure, new SetRegion(part, VertexSet.ALL, "tail")))
                .hasMessageContaining("tail", "torso, ");
    }

    /** Every list says all regions in one order, so the numbers of joined meshes mean the same. */
    @Test
    public void joinedMeshesKeepTheirRegions() throws Exception {
        Asset balls = NestedBalls.of(0, 1.02);
        Asset asset = done(
                done(balls, new SetRegion("skin", VertexSet.ALL, "left-hand")),
                new SetRegion("coat", VertexSet.ALL, "head"));
        Asset one = done(asset, new Combine("skin,coat", "both"));
        Mesh both = one.meshes().get(one.findMesh("both"));
        assertThat(Stream.of(RegionMarks.of(both)).distinct()).containsExactly(BodyRegion.LEFT_HAND, BodyRegion.HEAD);
        // A speck: one triangle with vertices of its own in another region than all around it.
        Asset speck = done(balls, new SetRegion("skin", VertexSet.ALL, "head"));
        Mesh skin = speck.meshes().getFirst();
        Primitive p = skin.primitives().getFirst();
        int[] corners = p.triangleCorners();
        Primitive alone = Subset.ofTriangles(p, Arrays.copyOf(corners, 3));
        Primitive rest = Subset.ofTriangles(p, Arrays.copyOfRange(corners, 3, corners.length));
        Mesh parted = skin.withPrimitives(List.of(alone, rest));
        BodyRegion[] marks = RegionMarks.of(parted);
        Arrays.fill(marks, 0, 3, BodyRegion.NECK);
        Asset asked = speck.withMesh(0, RegionMarks.with(parted, marks));
        assertThat(found(asked, "regions", TARGET))
                .singleElement()
                .matches(f -> f.message().toString().startsWith("A triangle of skin is of another region"))
                .matches(f -> f.place().vertices().cardinality() == 3);
    }
}
