package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.measure.Hidden;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.skin.Cover;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/**
 * What is hidden under the vest, against pictures: the whole pilot is drawn with the numbers of its triangles from
 * 200 directions by a depth buffer of its own; with {@code -Dmarrow.cover=all} in all trial poses and clips, otherwise at rest.
 */
public class CoverTest {
    private static final boolean ALL = !System.getProperty("marrow.cover", "").isEmpty();
    private static final int VIEWS = 200;
    private static final int WIDE = 320;

    private final Asset dressed = WornTest.Dressed.CHANGE.asset();
    /** As it moves in the long run alone; what is looked at is otherwise the same, at rest. */
    private final Asset looked = ALL ? dressed : still();

    private static List<Pose> poses(Asset asset) {
        Rig rig = new Rig(asset);
        List<Pose> out = new ArrayList<>(List.of(rig.rest()));
        TrialPoses.of(asset).forEach(p -> out.add(rig.at(p.clip(asset), 1)));
        for (Clip clip : asset.clips()) {
            for (double t : Moments.frames(clip, 16)) {
                out.add(rig.at(clip, t));
            }
        }
        return out;
    }

    /** Triangles of the body, by number, of which a pixel is seen from anywhere. */
    private static BitSet seen(Asset asset, String body) {
        Deformer deformer = new Deformer(asset);
        List<Pose> poses = poses(asset);
        BitSet[] by = new BitSet[poses.size()];
        IntStream.range(0, by.length).parallel().forEach(k -> {
            by[k] = new BitSet();
            Random random = new Random(k);
            List<float[]> parts = new ArrayList<>();
            for (MeshPlace place : deformer.places()) {
                parts.add(deformer.positions(place, poses.get(k)));
            }
            for (int v = 0; v < VIEWS; v++) {
                Vector3d to = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
                draw(asset, deformer.places(), parts, to.normalize(), body, by[k]);
            }
        });
        BitSet out = new BitSet();
        Arrays.stream(by).forEach(out::or);
        return out;
    }

    /** One picture from afar; front faces alone, both where the material says so. */
    private static void draw(
            Asset asset, List<MeshPlace> places, List<float[]> parts, Vector3d to, String body, BitSet seen) {
        Vector3d across = Math.abs(to.y) < 0.9 ? new Vector3d(0, 1, 0).cross(to) : new Vector3d(1, 0, 0).cross(to);
        across.normalize();
        Vector3d up = new Vector3d(to).cross(across);
        float[] depth = new float[WIDE * WIDE];
        Arrays.fill(depth, Float.NEGATIVE_INFINITY);
        int[] ids = new int[depth.length];
        Arrays.fill(ids, -1);
        double scale = WIDE / 2.2;
        for (int part = 0; part < parts.size(); part++) {
            float[] p = parts.get(part);
            double[] screen = new double[p.length];
            for (int i = 0; i < p.length; i += 3) {
                double x = p[i];
                double y = p[i + 1] - 0.9;
                double z = p[i + 2];
                screen[i] = WIDE / 2.0 + scale * (x * across.x + y * across.y + z * across.z);
                screen[i + 1] = WIDE / 2.0 + scale * (x * up.x + y * up.y + z * up.z);
                screen[i + 2] = x * to.x + y * to.y + z * to.z;
            }
            boolean asked = asset.meshes().get(places.get(part).mesh()).name().equals(body);
            int first = 0;
            int number = 0;
            for (Primitive primitive :
                    asset.meshes().get(places.get(part).mesh()).primitives()) {
                boolean both = primitive.material() >= 0
                        && asset.materials().get(primitive.material()).doubleSided();
                int[] t = primitive.triangleCorners();
                for (int i = 0; i < t.length; i += 3, number++) {
                    fill(
                            screen,
                            (first + t[i]) * 3,
                            (first + t[i + 1]) * 3,
                            (first + t[i + 2]) * 3,
                            both,
                            depth,
                            ids,
                            asked ? number : -1);
                }
                first += primitive.vertexCount();
            }
        }
        for (int id : ids) {
            if (id >= 0) {
                seen.set(id);
            }
        }
    }

    private static void fill(double[] s, int a, int b, int c, boolean both, float[] depth, int[] ids, int id) {
        double area = (s[b] - s[a]) * (s[c + 1] - s[a + 1]) - (s[c] - s[a]) * (s[b + 1] - s[a + 1]);
        if (area == 0 || !both && area < 0) {
            return;
        }
        int x0 = (int) Math.max(0, Math.ceil(Math.min(s[a], Math.min(s[b], s[c])) - 0.5));
        int x1 = (int) Math.min(WIDE - 1, Math.floor(Math.max(s[a], Math.max(s[b], s[c])) - 0.5));
        int y0 = (int) Math.max(0, Math.ceil(Math.min(s[a + 1], Math.min(s[b + 1], s[c + 1])) - 0.5));
        int y1 = (int) Math.min(WIDE - 1, Math.floor(Math.max(s[a + 1], Math.max(s[b + 1], s[c + 1])) - 0.5));
        for (int y = y0; y <= y1; y++) {
            for (int x = x0; x <= x1; x++) {
                double px = x + 0.5;
                double py = y + 0.5;
                double u = ((s[b] - px) * (s[c + 1] - py) - (s[c] - px) * (s[b + 1] - py)) / area;
                double v = ((s[c] - px) * (s[a + 1] - py) - (s[a] - px) * (s[c + 1] - py)) / area;
                if (u >= 0 && v >= 0 && u + v <= 1) {
                    float z = (float) (u * s[a + 2] + v * s[b + 2] + (1 - u - v) * s[c + 2]);
                    if (z > depth[y * WIDE + x]) {
                        depth[y * WIDE + x] = z;
                        ids[y * WIDE + x] = id;
                    }
                }
            }
        }
    }

    /** Of the body's triangles those with the vest straight above all corners, that no picture shows. */
    private BitSet neverSeen(BitSet seen) {
        WeldedSurface body = RestSurface.of(dressed, dressed.findMesh("pilot"));
        WeldedSurface vest = RestSurface.of(dressed, dressed.findMesh("float_vest"));
        TriangleTree tree = new TriangleTree(vest.triangles(), vest.positions());
        float[] p = body.positions();
        float[] n = body.normals();
        int[] corners = body.triangles();
        BitSet out = new BitSet();
        for (int t = 0; t < corners.length / 3; t++) {
            boolean under = !seen.get(t);
            for (int i = 0; i < 3 && under; i++) {
                int c = corners[t * 3 + i] * 3;
                under = tree.meetsBefore(
                        new float[] {p[c], p[c + 1], p[c + 2]}, new float[] {n[c], n[c + 1], n[c + 2]}, 0.15f);
            }
            out.set(t, under);
        }
        return out;
    }

    @Test
    public void nothingThatIsHiddenIsSeenFromAnywhere() {
        BitSet seen = seen(looked, "pilot");
        BitSet never = neverSeen(seen);
        for (int rings : ALL ? new int[] {0, 1} : new int[] {0}) {
            long start = System.nanoTime();
            BitSet hidden = Hidden.triangles(
                    looked, looked.findMesh("pilot"), List.of(looked.findMesh("float_vest")), 8, rings, Work.QUIET);
            BitSet wrong = (BitSet) hidden.clone();
            wrong.and(seen);
            BitSet found = (BitSet) hidden.clone();
            found.and(never);
            System.out.printf(
                    "cover, %d rings: %d hidden, %d of them seen; %d of %d never seen under the vest; %.1f s%n",
                    rings,
                    hidden.cardinality(),
                    wrong.cardinality(),
                    found.cardinality(),
                    never.cardinality(),
                    (System.nanoTime() - start) / 1e9);
            if (!ALL) {
                assertThat(wrong.cardinality()).as("hidden and yet seen").isZero();
                assertThat(found.cardinality()).isGreaterThan(never.cardinality() / 2);
            }
        }
    }

    private static long triangles(Asset asset) {
        return asset.meshes().get(asset.findMesh("pilot")).primitives().stream()
                .mapToLong(p -> p.triangleCorners().length / 3)
                .sum();
    }

    /** The pilot and the vest as they stand, with no joint to pose them by. */
    private Asset still() {
        List<Node> nodes = new ArrayList<>();
        for (int m = 0; m < dressed.meshes().size(); m++) {
            nodes.add(Node.group(dressed.meshes().get(m).name(), Local.IDENTITY).withMesh(m, -1));
        }
        return Asset.of("still", dressed.conventions(), nodes, dressed.meshes(), List.of(), List.of())
                .withMaterials(dressed.materials());
    }

    @Test
    public void theyAreTakenOutOrMarked() throws Refused {
        Asset still = still();
        Change taken = new Cover("pilot", "float_*", 2, Cover.As.FACES, 0).apply(still, Work.QUIET);
        long gone = taken.counts().get(Message.of("count.triangles.hidden"));
        assertThat(gone).isGreaterThan(300);
        assertThat(triangles(taken.asset())).isEqualTo(triangles(still) - gone);
        assertThat(taken.notes().toString()).contains("in no picture from all sides");
        for (Primitive p :
                taken.asset().meshes().get(taken.asset().findMesh("pilot")).primitives()) {
            BitSet used = new BitSet();
            Arrays.stream(p.triangleCorners()).forEach(used::set);
            assertThat(used.cardinality()).as("no vertex is left over").isEqualTo(p.vertexCount());
        }
        Change more = new Cover("pilot", "float_*", 0, Cover.As.FACES, 0).apply(still, Work.QUIET);
        assertThat(more.counts().get(Message.of("count.triangles.hidden")))
                .as("without a margin")
                .isGreaterThan(gone + 300);
        // A mask that is there already stays: the one that hides has both.
        int m = still.findMesh("pilot");
        Primitive body = still.meshes().get(m).primitives().getFirst();
        float[] before = new float[body.vertexCount()];
        before[0] = 1;
        List<Attribute> attributes = new ArrayList<>(body.attributes());
        attributes.add(new Attribute(Cover.ATTRIBUTE, 1, before, Storage.FLOAT));
        Asset masked =
                still.withMesh(m, still.meshes().get(m).withPrimitives(List.of(body.withAttributes(attributes))));
        Asset marked = new Cover("pilot", "float_vest", 2, Cover.As.ATTRIBUTE, 0)
                .apply(masked, Work.QUIET)
                .asset();
        assertThat(triangles(marked)).isEqualTo(triangles(still));
        float[] mask = mask(marked);
        assertThat(mask[0]).isEqualTo(1);
        assertThat(IntStream.range(0, mask.length).filter(v -> mask[v] == 1).count())
                .isGreaterThan(100);
    }

    /** As a file keeps it: the picture comes back, and lies in the body's own texture coordinates. */
    @Test
    public void aMaskGoesIntoAFileAndBack() throws Exception {
        Asset still = still();
        Asset masked = new Cover("pilot", "float_*", 0, Cover.As.TEXTURE, 0, 512)
                .apply(still, Work.QUIET)
                .asset();
        Asset read = GltfReader.read(GltfWriter.glb(masked), "masked.glb", null, Work.QUIET);
        byte[] before = masked.images().getLast().bytes();
        assertThat(masked.images().getLast().name()).isEqualTo("pilot_cover");
        List<byte[]> covers = read.materials().stream()
                .flatMap(m -> m.textures().stream())
                .filter(t -> t.slot().equals(TextureUse.COVER))
                .map(t -> read.images()
                        .get(read.textures().get(t.texture()).image())
                        .bytes())
                .toList();
        assertThat(covers).hasSize(1).first().isEqualTo(before);
    }

    private static float[] mask(Asset asset) {
        Primitive p = asset.meshes().get(asset.findMesh("pilot")).primitives().getFirst();
        Attribute mask = p.attribute(Cover.ATTRIBUTE).orElseThrow();
        assertThat(mask.width()).isEqualTo(1);
        return mask.values();
    }

    @Test
    public void whatHidesNothingIsRefused() {
        Asset still = still();
        List<Node> twice = new ArrayList<>(still.nodes());
        twice.add(Node.group("again", Local.IDENTITY).withMesh(still.findMesh("pilot"), -1));
        assertThatThrownBy(() -> new Cover("pilot", "float_vest").apply(still.withNodes(twice), Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("one place");
        assertThatThrownBy(() -> new Cover("pilot", "pilot").apply(dressed, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("worn on pilot");
        assertThatThrownBy(() -> new Cover("cape", "lantern", 0, Cover.As.FACES, 0).apply(dressed, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("fewer rings");
        assertThatThrownBy(() -> new Cover("pilot", "float_vest", 17, Cover.As.FACES, 0).apply(dressed, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("17");
    }
}
