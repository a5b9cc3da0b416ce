package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.steps.caches.CacheToJoints;
import org.cleanmarrow.steps.caches.ShrinkPieces;
import org.cleanmarrow.steps.caches.StrandsToMesh;
import org.cleanmarrow.surface.Strands;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Lines become ribbons and tubes, and pieces become nothing. */
public class StrandsTest {
    /** Quarter circles of radius 1, seven points each, beside each other. */
    private static Primitive arcs(int strands, boolean pairs) {
        int points = 7;
        float[] p = new float[3 * points * strands];
        int[] indices = new int[2 * (points - 1) * strands];
        int end = 0;
        for (int s = 0; s < strands; s++) {
            for (int i = 0; i < points; i++) {
                double angle = Math.PI / 2 * i / (points - 1);
                int v = s * points + i;
                p[3 * v] = (float) (0.01 * s);
                p[3 * v + 1] = (float) Math.sin(angle);
                p[3 * v + 2] = (float) (1 - Math.cos(angle));
                if (i > 0) {
                    indices[end++] = v - 1;
                    indices[end++] = v;
                }
            }
        }
        Primitive plain = Primitive.triangles(new int[0], p, null, -1);
        return pairs
                ? plain.withIndices(Primitive.Mode.LINES, indices)
                : plain.withIndices(Primitive.Mode.LINE_STRIP, counting(points));
    }

    private static int[] counting(int n) {
        int[] out = new int[n];
        Arrays.setAll(out, i -> i);
        return out;
    }

    private static Asset asset(Conventions conventions, Local local, Primitive... primitives) {
        return Asset.of(
                "hair",
                conventions,
                List.of(Node.group("hair", local).withMesh(0, -1)),
                List.of(Mesh.of("hair", primitives)),
                List.of(),
                List.of());
    }

    @Test
    public void linesAreFoundFromRootToTip() {
        Primitive loop = arcs(1, false).withIndices(Primitive.Mode.LINE_LOOP, counting(7));
        // Two pieces that meet a third in one point are three strands.
        Primitive fork = arcs(1, true).withIndices(Primitive.Mode.LINES, new int[] {0, 1, 1, 2, 1, 3});
        Asset all = asset(Conventions.GLTF, Local.IDENTITY, arcs(5, true), arcs(1, false), loop, fork);
        List<Strands.Strand> strands = Strands.of(all.meshes().getFirst());
        assertThat(strands).hasSize(5 + 1 + 1 + 3);
        assertThat(strands.get(2).vertices()).containsExactly(14, 15, 16, 17, 18, 19, 20);
        assertThat(strands.get(6).vertices()).containsExactly(0, 1, 2, 3, 4, 5, 6, 0);
        assertThat(Strands.counts(all)).containsExactly(new Strands.Count(0, 10, 5 * 7 + 7 + 8 + 6));
    }

    /** Three times as many a level (common practice); what is foretold is what is built. */
    @Test
    public void everyLevelHasThreeTimesTheTriangles() throws Refused {
        Asset lines = asset(Conventions.GLTF, Local.IDENTITY, arcs(40, true));
        long before = 0;
        for (int level = 2; level <= 6; level++) {
            StrandsToMesh step = new StrandsToMesh("hair", level, 4);
            Mesh built = step.apply(lines, Work.QUIET).asset().meshes().getFirst();
            assertThat((long) built.triangleCount()).isEqualTo(step.foretold(40));
            assertThat(before == 0 || built.triangleCount() == 3 * before).isTrue();
            before = built.triangleCount();
            assertThat(Strands.of(built)).isEmpty();
        }
        StrandsToMesh few = new StrandsToMesh("hair", 3, 4, 0.25, 1, 500, "", true);
        Asset beside = few.apply(lines, Work.QUIET).asset();
        assertThat(beside.meshes()).hasSize(2);
        assertThat(Strands.of(beside.meshes().getFirst())).hasSize(40);
        assertThat(beside.meshes().get(1).triangleCount()).isEqualTo(480).isEqualTo((int) few.foretold(40));
        assertThat(new StrandsToMesh("hair", 2, 4, 0.25, 0.5, 0, "", false).foretold(40))
                .isEqualTo(20 * 8);
        Change lineLevel = new StrandsToMesh("hair", 1, 4).apply(lines, Work.QUIET);
        assertThat(lineLevel.asset()).isSameAs(lines);
        assertThat(lineLevel.notes().toString()).contains("lines");
    }

    /** A tube's rings lie round the curve, as wide as asked for, outside outwards; whatever unit and scale the part has. */
    @Test
    public void aTubeIsAsWideAsAskedForAndFacesOutwards() throws Refused {
        Conventions centimetres = new Conventions(0.01, Axis.Y, Axis.Z, Handedness.RIGHT);
        Local twice = Local.of(new Vector3d(1, 2, 3), new Quaterniond().rotateX(1), new Vector3d(2));
        Asset lines = asset(centimetres, twice, arcs(3, true));
        Primitive tube = new StrandsToMesh("hair", 5, 0.4, 0.5, 1, 0, "", false)
                .apply(lines, Work.QUIET)
                .asset()
                .meshes()
                .getFirst()
                .primitives()
                .getFirst();
        int around = 10;
        int rings = tube.vertexCount() / 3 / around;
        assertThat(rings).isEqualTo(13);
        for (int ring = 0; ring < rings; ring++) {
            Vector3d middle = new Vector3d();
            for (int s = 0; s < 9; s++) {
                middle.add(at(tube.positions(), ring * around + s).div(9));
            }
            // 0.4 mm are 0.04 cm in the world, half of that in the node, and half again is the radius; less towards the
            // tip.
            double meant = 0.01 * (1 - 0.5 * ring / (rings - 1));
            for (int s = 0; s < around; s++) {
                Vector3d away = at(tube.positions(), ring * around + s).sub(middle);
                assertThat(away.length()).isCloseTo(meant, within(1e-6));
                assertThat(away.normalize().dot(at(tube.normals(), ring * around + s)))
                        .isCloseTo(1, within(1e-4));
            }
            assertThat((double) tube.attribute("TEXCOORD_0").orElseThrow().values()[2 * ring * around + 1])
                    .isCloseTo(ring / (rings - 1.0), within(1e-6));
        }
        int[] corners = tube.triangleCorners();
        for (int t = 0; t < corners.length; t += 3) {
            Vector3d a = at(tube.positions(), corners[t]);
            Vector3d flat = at(tube.positions(), corners[t + 1])
                    .sub(a)
                    .cross(at(tube.positions(), corners[t + 2]).sub(a));
            assertThat(flat.dot(at(tube.normals(), corners[t]))).isPositive();
        }
    }

    /** No twist: along a plane curve the frame keeps to the plane, so every vertex of a column stays on its side of it. */
    @Test
    public void aRibbonDoesNotTwistAndFacesItsNormals() throws Refused {
        Asset lines = asset(Conventions.GLTF, Local.IDENTITY, arcs(2, true));
        Primitive ribbon = new StrandsToMesh("hair", 2, 6)
                .apply(lines, Work.QUIET)
                .asset()
                .meshes()
                .getFirst()
                .primitives()
                .getFirst();
        int[] corners = ribbon.triangleCorners();
        for (int t = 0; t < corners.length; t += 3) {
            Vector3d a = at(ribbon.positions(), corners[t]);
            Vector3d flat = at(ribbon.positions(), corners[t + 1])
                    .sub(a)
                    .cross(at(ribbon.positions(), corners[t + 2]).sub(a));
            assertThat(flat.dot(at(ribbon.normals(), corners[t]))).isPositive();
        }
        for (int ring = 1; ring < 5; ring++) {
            Vector3d first =
                    at(ribbon.positions(), 1).sub(at(ribbon.positions(), 0)).normalize();
            Vector3d here = at(ribbon.positions(), 2 * ring + 1)
                    .sub(at(ribbon.positions(), 2 * ring))
                    .normalize();
            // Across the plane of the curve, or in it: the angle to that plane's normal stays.
            assertThat(Math.abs(here.x)).isCloseTo(Math.abs(first.x), within(1e-5));
        }
    }

    private static Vector3d at(float[] values, int v) {
        return new Vector3d(values[3 * v], values[3 * v + 1], values[3 * v + 2]);
    }

    /** Grown from a skin, strands stand at rest where they stood, and follow it: their roots stay on it in every clip. */
    @Test
    public void strandsFollowTheSkinThatTheyGrowFrom() throws Refused {
        Asset body = RandomAssets.of(3);
        Deformer deformer = new Deformer(body);
        float[] rest = deformer.positions(
                deformer.places().stream()
                        .filter(p -> p.skin() >= 0)
                        .findFirst()
                        .orElseThrow(),
                new Rig(body).rest());
        float[] p = new float[6 * 10];
        int[] pairs = counting(20);
        for (int s = 0; s < 10; s++) {
            for (int k = 0; k < 3; k++) {
                p[6 * s + k] = rest[3 * s + k];
                p[6 * s + 3 + k] = rest[3 * s + k] + (k == 1 ? 0.3f : 0);
            }
        }
        Primitive lines = Primitive.triangles(new int[0], p, null, -1).withIndices(Primitive.Mode.LINES, pairs);
        Asset hairy = NewNodes.under(
                body.withMeshes(Stream.concat(body.meshes().stream(), Stream.of(Mesh.of("hair", lines)))
                        .toList()),
                -1,
                Node.group("hair", Local.IDENTITY).withMesh(body.meshes().size(), -1));
        Asset grown = new StrandsToMesh("hair", 3, 2, 0.25, 1, 0, "figure", false)
                .apply(hairy, Work.QUIET)
                .asset();
        Deformer after = new Deformer(grown);
        var hair = after.places().stream()
                .filter(x -> grown.meshes().get(x.mesh()).name().equals("hair"))
                .findFirst()
                .orElseThrow();
        var skin = after.places().stream()
                .filter(x -> grown.meshes().get(x.mesh()).name().equals("figure"))
                .findFirst()
                .orElseThrow();
        assertThat(hair.skin()).isEqualTo(skin.skin());
        float[] still = after.positions(hair, new Rig(grown).rest());
        for (int s = 0; s < 10; s++) {
            Vector3d root = middle(still, 20 * s);
            assertThat(root.distance(rest[3 * s], rest[3 * s + 1], rest[3 * s + 2]))
                    .isLessThan(1e-4);
        }
        // Shapes move the skin and not what grows from it.
        Clip whole = grown.clips().get(1);
        Clip clip = whole.withChannels(
                whole.channels().stream().filter(c -> !c.shapes()).toList());
        Pose pose = new Rig(grown).at(clip, (clip.start() + clip.end()) / 2);
        float[] moved = after.positions(hair, pose);
        float[] below = after.positions(skin, pose);
        for (int s = 0; s < 10; s++) {
            Vector3d root = middle(moved, 20 * s);
            assertThat(root.distance(below[3 * s], below[3 * s + 1], below[3 * s + 2]))
                    .as("strand " + s)
                    .isLessThan(1e-3);
        }
    }

    /** Of the first ring of a tube of three sides. */
    private static Vector3d middle(float[] p, int first) {
        return at(p, first).add(at(p, first + 1)).add(at(p, first + 2)).div(3);
    }

    @Test
    public void whatIsNoStrandIsRefused() {
        Asset lines = asset(Conventions.GLTF, Local.IDENTITY, arcs(2, true));
        assertThatThrownBy(() -> new StrandsToMesh("hair", 7, 4).apply(lines, Work.QUIET))
                .hasMessageContaining("1 to 6");
        assertThatThrownBy(() -> new StrandsToMesh("hair", 2, 0).apply(lines, Work.QUIET))
                .hasMessageContaining("over 0");
        Asset solid = asset(Conventions.GLTF, Local.IDENTITY, Cached.boxes(List.of(new Vector3d()), 1));
        assertThatThrownBy(() -> new StrandsToMesh("hair", 2, 4).apply(solid, Work.QUIET))
                .hasMessageContaining("no lines");
        assertThatThrownBy(() -> new StrandsToMesh("hair", 4, 4, 0.25, 1, 10, "", false).apply(lines, Work.QUIET))
                .hasMessageContaining("72");
    }

    private static final List<Vector3d> MIDDLES =
            List.of(new Vector3d(0, 0, 0), new Vector3d(3, 1, 0), new Vector3d(0, 2, 5));

    private static Asset drifting(Local local) {
        Primitive p = Cached.boxes(MIDDLES, 0.5);
        return Cached.of(p, local, 21, (k, out) -> {
            for (int v = 0; v < p.vertexCount(); v++) {
                out[3 * v] = p.positions()[3 * v] + 0.1f * k;
                out[3 * v + 1] = p.positions()[3 * v + 1];
                out[3 * v + 2] = p.positions()[3 * v + 2] - 0.05f * k * (v / 8);
            }
        });
    }

    /** Sizes and middles of the boxes at a frame. */
    private static void holds(Asset before, Asset after, int frame, double[] sizes) {
        List<float[]> was = Cached.places(before, 0);
        List<float[]> is = Cached.places(after, 0);
        for (int b = 0; b < 3; b++) {
            Vector3d meant = new Vector3d();
            for (int v = 8 * b; v < 8 * b + 8; v++) {
                meant.add(at(was.get(frame), v).div(8));
            }
            for (int v = 8 * b; v < 8 * b + 8; v++) {
                Vector3d wanted = at(was.get(frame), v).sub(meant).mul(sizes[b]).add(meant);
                assertThat(at(is.get(frame), v).distance(wanted))
                        .as(frame + " " + b)
                        .isLessThan(2e-5);
            }
        }
    }

    /** In the cache, on joints, and on joints that stand elsewhere: the same sizes about the same middles. */
    @Test
    public void piecesShrinkAboutTheirOwnMiddlesWhateverMovesThem() throws Refused {
        Local turned = Local.of(new Vector3d(1, 0, 0), new Quaterniond().rotateY(0.7), new Vector3d(1));
        Asset cached = drifting(turned);
        Asset jointed = new CacheToJoints("part", 3).apply(cached, Work.QUIET).asset();
        for (Asset before : List.of(cached, jointed)) {
            Asset after =
                    new ShrinkPieces("part", 5, 15).apply(before, Work.QUIET).asset();
            holds(before, after, 0, new double[] {1, 1, 1});
            holds(before, after, 5, new double[] {1, 1, 1});
            holds(before, after, 10, new double[] {0.5, 0.5, 0.5});
            holds(before, after, 13, new double[] {0.2, 0.2, 0.2});
            holds(before, after, 15, new double[] {0, 0, 0});
            holds(before, after, 20, new double[] {0, 0, 0});
            // From the top: the third, the second, the first, each in half of the time.
            Asset ordered = new ShrinkPieces(
                            "part", 4, 16, "sim", Shrinking.Order.HEIGHT, 0.5, 1, Shrinking.Ease.LINEAR)
                    .apply(before, Work.QUIET)
                    .asset();
            holds(before, ordered, 7, new double[] {1, 1, 0.5});
            holds(before, ordered, 10, new double[] {1, 0.5, 0});
            holds(before, ordered, 13, new double[] {0.5, 0, 0});
        }
        Asset eased = new ShrinkPieces("part", 0, 20, "", Shrinking.Order.RANDOM, 0, 1, Shrinking.Ease.SMOOTH)
                .apply(cached, Work.QUIET)
                .asset();
        // 1 - (3 t^2 - 2 t^3) at a quarter.
        holds(cached, eased, 5, new double[] {0.84375, 0.84375, 0.84375});
    }

    @Test
    public void aPartByItselfShrinksInAClipMadeForIt() throws Refused {
        Asset alone = drifting(Local.at(0, 4, 0));
        Asset one = alone.withMesh(0, Mesh.of("part", Cached.boxes(MIDDLES.subList(1, 2), 0.5)))
                .withClips(List.of());
        Asset after = new ShrinkPieces("part", 0, 10).apply(one, Work.QUIET).asset();
        assertThat(after.clips().getFirst().name()).isEqualTo("shrink");
        float[] half = Cached.places(after, 0).get(5);
        for (int v = 0; v < 8; v++) {
            assertThat(at(half, v).distance(3, 5, 0)).isCloseTo(Math.sqrt(3) / 4, within(1e-5));
        }
        assertThatThrownBy(() -> new ShrinkPieces("part", 0, 10).apply(alone.withClips(List.of()), Work.QUIET))
                .hasMessageContaining("3 loose pieces");
        assertThatThrownBy(() -> new ShrinkPieces("part", 10, 10).apply(alone, Work.QUIET))
                .isInstanceOf(Refused.class);
        assertThatThrownBy(() -> new ShrinkPieces("nothing", 0, 10).apply(alone, Work.QUIET))
                .hasMessageContaining("nothing");
    }

    /** What is baked is what was seen, also of a mesh that a skin moves, on a node that keys move. */
    @Test
    public void aBakedClipShowsWhatTheClipShowed() throws Refused {
        for (long seed = 1; seed < 5; seed++) {
            Asset asset = RandomAssets.of(seed);
            for (String clip : List.of("linear", "cubic")) {
                Asset baked =
                        new BakeCache("figure", clip).apply(asset, Work.QUIET).asset();
                Clip was = asset.clips().get(asset.findClip(clip));
                Clip is = baked.clips().get(baked.findClip(clip + "_cache"));
                Deformer deformer = new Deformer(baked);
                var place = deformer.places().stream()
                        .filter(p -> p.skin() >= 0)
                        .findFirst()
                        .orElseThrow();
                for (float t : is.channels().getFirst().track().times()) {
                    float[] a = positions(deformer, place, new Rig(baked).at(was, t));
                    float[] b = positions(deformer, place, new Rig(baked).at(is, t));
                    double size = 0;
                    for (float x : a) {
                        size = Math.max(size, Math.abs(x));
                    }
                    assertThat(Cached.off(a, b)).isLessThan(1e-5 * size);
                }
                assertThat(is.carried()).isEqualTo(Passthrough.NONE);
            }
        }
    }

    private static float[] positions(Deformer deformer, MeshPlace place, Pose pose) {
        float[] out = new float[3 * deformer.vertexCount(place)];
        deformer.deform(place, pose, pose.world(), new Matrix4d(), out, null, false);
        return out;
    }
}
