package org.cleanmarrow.caches;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.InputStream;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.geometry.Cut;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.Shatter;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Pieces against SciPy's Voronoi cells ({@code tools/reference/cells.py}), and against what breaking must keep. */
public class ShatterTest {
    private static double[] doubles(JsonNode list) {
        return list.valueStream().mapToDouble(JsonNode::doubleValue).toArray();
    }

    private static Vector3d[] points(double[] p) {
        return IntStream.range(0, p.length / 3)
                .mapToObj(i -> new Vector3d(p[3 * i], p[3 * i + 1], p[3 * i + 2]))
                .toArray(Vector3d[]::new);
    }

    @Test
    public void cellsOfABoxAreSciPys() throws Exception {
        int inside = 0;
        try (InputStream in = ShatterTest.class.getResourceAsStream("cells.json")) {
            for (JsonNode one : JsonMapper.shared().readTree(in)) {
                double[] size = doubles(one.path("size"));
                double[] volumes = doubles(one.path("volumes"));
                Cut whole = Solids.box(0, 0, 0, size[0], size[1], size[2]).cut();
                // The box is float32 here and float64 there, which is as near as they can be.
                List<Cut> pieces = Shards.of(whole, points(doubles(one.path("seeds"))), 0, Work.QUIET);
                assertThat(pieces).hasSameSizeAs(volumes);
                for (int i = 0; i < volumes.length; i++) {
                    assertThat(pieces.get(i).volume()).isCloseTo(volumes[i], within(1e-6 * volumes[i]));
                    int corners = one.path("corners").get(i).intValue();
                    if (corners > 0) {
                        inside++;
                        assertThat(pieces.get(i).places()).isEqualTo(corners);
                        // Euler: no corner more than the cell has, so no triangle either.
                        assertThat(pieces.get(i).triangles()).isEqualTo(2 * corners - 4);
                    }
                }
            }
        }
        assertThat(inside).isPositive();
    }

    @DataProvider
    public Object[][] solids() {
        Solids.Solid hollow = Solids.box(-1, -1, -1, 1, 1, 1)
                .plus(Solids.box(-0.6, -0.7, -0.8, 0.5, 0.6, 0.7).insideOut());
        Solids.Solid fork = Solids.box(0, 0, 0, 3, 0.2, 0.2)
                .plus(Solids.box(0, 0.5, 0, 3, 0.7, 0.2))
                .plus(Solids.box(-0.5, -0.5, -0.5, -0.1, 1, 0.5));
        return new Object[][] {
            {"box", Solids.box(-1, -2, -0.1, 1, 2, 0.1), 40},
            {"ring", Solids.torus(1, 0.3, 37, 23), 60},
            {"hollow box", hollow, 30},
            {"several", fork, 12},
            {"two of a ring", Solids.torus(1, 0.1, 24, 9), 2}
        };
    }

    /** Every piece is closed, no vertex is nearer to another seed, and together they are the whole. */
    @Test(dataProvider = "solids")
    public void piecesAreClosedApartAndAllOfIt(String name, Solids.Solid solid, int many) {
        Cut whole = solid.cut();
        assertThat(whole.open()).isEmpty();
        Vector3d[] seeds = Shards.seeds(solid.corners(), solid.positions(), many, new Vector3d(), 0, 3);
        List<Cut> pieces = Shards.of(whole, seeds, 0, Work.QUIET);
        assertThat(pieces.size()).isGreaterThanOrEqualTo(many);
        double sum = 0;
        Vector3d moments = new Vector3d();
        for (Cut piece : pieces) {
            assertThat(piece.open()).isEmpty();
            Vector3d moment = new Vector3d();
            double volume = piece.volume(moment);
            assertThat(volume).isPositive();
            sum += volume;
            moments.add(moment);
            long owners = Arrays.stream(seeds)
                    .filter(seed -> IntStream.range(0, piece.places())
                            .allMatch(p -> Arrays.stream(seeds)
                                    .allMatch(other -> piece.at(p).distance(seed)
                                            <= piece.at(p).distance(other) + 1e-9)))
                    .count();
            assertThat(owners).as("seeds that a piece is all nearest to").isGreaterThanOrEqualTo(1);
        }
        Vector3d moment = new Vector3d();
        double volume = whole.volume(moment);
        assertThat(sum).isCloseTo(volume, within(1e-11 * volume));
        assertThat(moments.distance(moment)).isLessThan(1e-11);
    }

    @Test
    public void aCellOfTwoTinesIsTwoPieces() {
        Solids.Solid tines = Solids.box(0, 0, 0, 3, 0.2, 0.2).plus(Solids.box(0, 0.5, 0, 3, 0.7, 0.2));
        Vector3d[] seeds = {new Vector3d(0.5, 0.35, 0.1), new Vector3d(2, 0.35, 0.1)};
        List<Cut> pieces = Shards.of(tines.cut(), seeds, 0, Work.QUIET);
        assertThat(pieces).hasSize(4);
        // Halfway between the seeds.
        assertThat(pieces.get(0).volume()).isCloseTo(1.25 * 0.04, within(1e-7));
        assertThat(pieces.get(3).volume()).isCloseTo(1.75 * 0.04, within(1e-7));
    }

    @Test
    public void aHollowStaysInItsPiece() {
        Solids.Solid hollow = Solids.box(-1, -1, -1, 1, 1, 1)
                .plus(Solids.box(-0.9, -0.1, -0.1, -0.8, 0.1, 0.1).insideOut());
        List<Cut> pieces = Shards.of(
                hollow.cut(), new Vector3d[] {new Vector3d(-0.5, 0, 0), new Vector3d(0.5, 0, 0)}, 0, Work.QUIET);
        assertThat(pieces).hasSize(2);
        assertThat(pieces.get(0).volume()).isCloseTo(4 - 0.1 * 0.2 * 0.2, within(1e-6));
        assertThat(pieces.get(1).volume()).isCloseTo(4, within(1e-6));
    }

    /** Seeds that fall together, and planes through corners and along faces, break nothing. */
    @Test
    public void planesThatLieOnFacesLeaveAllClosed() {
        Cut whole = Solids.box(-1, -1, -1, 1, 1, 1).cut();
        Vector3d[] seeds = {
            new Vector3d(0, 0, 0), new Vector3d(0, 0, 0), new Vector3d(2, 0, 0), new Vector3d(0, 2, 0),
            new Vector3d(2, 2, 0), new Vector3d(-1, -1, -1), new Vector3d(1, 1, 1), new Vector3d(-1, 1, 0)
        };
        for (Cut piece : Shards.of(whole, seeds, 0, Work.QUIET)) {
            assertThat(piece.open()).isEmpty();
        }
    }

    private static Shatter broken(int pieces, boolean bodies, double speed) {
        return new Shatter("crate", pieces, 2, Shatter.Hit.MIDDLE, 0, 0, 0, 0, 0, "", bodies, 700, speed);
    }

    @Test
    public void atRestItLooksAsBefore() throws Exception {
        Local place = Local.of(new Vector3d(1, 2, 3), new Quaterniond().rotateXYZ(0.3, 0.2, 0.1), new Vector3d(2));
        Asset was = Solids.crate(
                place, Solids.faceted(Solids.box(-1, -1, -1, 1, 1, 1)), Solids.faceted(Solids.box(2, 0, 0, 3, 1, 1)));
        Asset now = broken(25, false, 0).apply(was, Work.QUIET).asset();
        Mesh mesh = now.meshes().getFirst();
        assertThat(mesh.primitives()).hasSize(3);
        Deformer deformer = new Deformer(now);
        float[] placed = deformer.positions(deformer.places().getFirst(), new Rig(now).rest());
        int first = 0;
        double area = 0;
        for (Primitive p : mesh.primitives()) {
            Influences rows = p.influences();
            for (int v = 0; v < p.vertexCount(); v++) {
                Vector3d own = Solids.point(p.positions(), v);
                Vector3d there = place.toMatrix().transformPosition(new Vector3d(own));
                assertThat(Solids.point(placed, first + v).distance(there)).isLessThan(2e-6);
                assertThat(rows.rowLength(v)).isEqualTo(1);
                assertThat(Solids.point(p.normals(), v).length()).isCloseTo(1, within(1e-6));
                if (p != mesh.primitives().getLast()) {
                    float[] uv = p.attribute("TEXCOORD_0").orElseThrow().values();
                    Vector3d paint = Solids.painted(own);
                    assertThat(uv[2 * v]).isCloseTo((float) paint.x, within(1e-6f));
                    assertThat(uv[2 * v + 1]).isCloseTo((float) paint.y, within(1e-6f));
                }
            }
            int[] corners = p.triangleCorners();
            for (int t = 0; t < corners.length && p != mesh.primitives().getLast(); t += 3) {
                Vector3d a = Solids.point(p.positions(), corners[t]);
                Vector3d n = Solids.point(p.positions(), corners[t + 1])
                        .sub(a)
                        .cross(Solids.point(p.positions(), corners[t + 2]).sub(a));
                area += n.length() / 2;
                assertThat(n.dot(Solids.point(p.normals(), corners[t]))).isGreaterThan(-1e-9);
            }
            first += p.vertexCount();
        }
        assertThat(area).as("the skin outside is all there").isCloseTo(24 + 6, within(1e-4));
        assertThat(now.materials().getLast().name()).isEqualTo("crate_inside");
        // Each piece is closed as it will be written, in float32 and with its seams welded.
        MeshTopology topology = MeshTopology.of(mesh);
        int[] places =
                IntStream.range(0, mesh.vertexCount()).map(topology::weldedOf).toArray();
        assertThat(Cut.of(topology.corners(), places, MeshTopology.restPositions(mesh))
                        .open())
                .isEmpty();
    }

    /** A cube halved: each half ends half a gap before the middle, and nothing hangs together any more. */
    @Test
    public void theGapPartsPieces() throws Exception {
        Vector3d[] seeds = {new Vector3d(-0.5, 0, 0), new Vector3d(0.5, 0, 0)};
        for (Cut half : Shards.of(Solids.box(-1, -1, -1, 1, 1, 1).cut(), seeds, 0.01, Work.QUIET)) {
            assertThat(half.volume()).isCloseTo(4 * 0.995, within(1e-6));
        }
        Asset crate = Solids.crate(Local.IDENTITY, Solids.faceted(Solids.torus(1, 0.4, 16, 9)));
        Asset now = new Shatter("crate", 40).apply(crate, Work.QUIET).asset();
        int pieces = now.skins().getFirst().joints().length;
        assertThat(MeshTopology.of(now.meshes().getFirst()).islandCount()).isEqualTo(pieces);
        assertThat(Checks.run(now, Target.of(Conventions.GLTF), Work.QUIET).stream()
                        .map(Finding::check))
                .doesNotContain("seams", "strays", "shape-size");
    }

    /** Mass is density times volume; pieces fly off, fall and come to rest on the floor (none below it, all slow). */
    @Test
    public void piecesAreThrownAndComeToRest() throws Exception {
        Local place = Local.of(new Vector3d(0, 1.5, 0), new Quaterniond(), new Vector3d(0.5));
        Asset was = Solids.crate(place, Solids.faceted(Solids.box(-1, -1, -1, 1, 1, 1)))
                .withAttached(List.of(new Collider("whole", 0, Frame.NONE, new Shape.Box(2, 2, 2))));
        Asset now = broken(12, true, 1.5).apply(was, Work.QUIET).asset();
        assertThat(Bodies.colliders(now)).hasSize(12).noneMatch(c -> c.name().equals("whole"));
        List<RigidBody> bodies = Bodies.all(now);
        assertThat(bodies.stream().mapToDouble(b -> b.mass().kilograms()).sum()).isCloseTo(700, within(1e-3));
        assertThat(bodies)
                .allSatisfy(b -> assertThat(b.speed().linear().length() * 0.5).isCloseTo(1.5, within(1e-9)));
        Asset fallen = new SimulateBodies("", 4, "", SimulateBodies.Floor.ZERO)
                .apply(now, Work.QUIET)
                .asset();
        Clip clip = fallen.clips().getLast();
        Deformer deformer = new Deformer(fallen);
        float[] end = deformer.positions(deformer.places().getFirst(), new Rig(fallen).at(clip, 4));
        float[] before = deformer.positions(deformer.places().getFirst(), new Rig(fallen).at(clip, 3.9));
        for (int v = 0; v < end.length / 3; v++) {
            assertThat(end[3 * v + 1]).isGreaterThan(-0.005f);
            assertThat(Solids.point(end, v).distance(Solids.point(before, v))).isLessThan(0.1);
        }
        // Under what is drawn: half a metre below its middle, where it stands already.
        Asset low = new SimulateBodies("", 1.5, "", SimulateBodies.Floor.LOWEST)
                .apply(now, Work.QUIET)
                .asset();
        Asset nowhere = new SimulateBodies("", 1.5, "").apply(now, Work.QUIET).asset();
        assertThat(lowest(low)).isBetween(0.995, 1.005);
        assertThat(lowest(nowhere)).isLessThan(-5);
        double top = IntStream.range(0, end.length / 3)
                .mapToDouble(v -> end[3 * v + 1])
                .max()
                .orElseThrow();
        assertThat(top).as("it stood two metres high").isLessThan(1.2);
    }

    /** Height of the lowest vertex at the end of the last clip. */
    private static double lowest(Asset asset) {
        Clip clip = asset.clips().getLast();
        Deformer deformer = new Deformer(asset);
        float[] end = deformer.positions(deformer.places().getFirst(), new Rig(asset).at(clip, clip.end()));
        return IntStream.range(0, end.length / 3)
                .mapToDouble(v -> end[3 * v + 1])
                .min()
                .orElseThrow();
    }

    @Test
    public void gatheredSeedsLieNearTheHit() {
        Solids.Solid box = Solids.box(-1, -1, -1, 1, 1, 1);
        Vector3d at = new Vector3d(1, 1, 1);
        double[] mean = new double[2];
        for (int gather = 0; gather < 2; gather++) {
            Vector3d[] seeds = Shards.seeds(box.corners(), box.positions(), 400, at, gather, 5);
            mean[gather] =
                    Arrays.stream(seeds).mapToDouble(at::distance).average().orElseThrow();
            assertThat(seeds).allMatch(s -> Math.max(Math.abs(s.x), Math.max(Math.abs(s.y), Math.abs(s.z))) < 1);
        }
        assertThat(mean[1]).isLessThan(0.6 * mean[0]);
    }

    @Test
    public void whatHasNoInsideIsRefused() {
        Primitive whole = Solids.faceted(Solids.box(-1, -1, -1, 1, 1, 1));
        int[] corners = whole.triangleCorners();
        Primitive open = whole.withIndices(Primitive.Mode.TRIANGLES, Arrays.copyOf(corners, corners.length - 3));
        refused(Solids.crate(Local.IDENTITY, open), "shatter.open");
        refused(
                Solids.crate(
                        Local.IDENTITY,
                        Solids.faceted(Solids.box(-1, -1, -1, 1, 1, 1).insideOut())),
                "shatter.flat");
        Solids.Solid many = Solids.box(0, 0, 0, 1, 1, 1);
        for (int i = 1; i <= 500; i++) {
            many = many.plus(Solids.box(2 * i, 0, 0, 2 * i + 1, 1, 1));
        }
        refused(Solids.crate(Local.IDENTITY, Solids.faceted(many)), "shatter.loose");
        Asset twice = Solids.crate(Local.IDENTITY, whole);
        refused(twice.withNodes(List.of(twice.nodes().getFirst(), twice.nodes().getFirst())), "shatter.places");
        refused(
                Solids.crate(Local.IDENTITY, whole, whole.withIndices(Primitive.Mode.LINES, new int[] {0, 1})),
                "shatter.lines");
        Influences.Builder rows = new Influences.Builder(whole.vertexCount());
        for (int v = 0; v < whole.vertexCount(); v++) {
            rows.add(0, 1);
            rows.endRow();
        }
        refused(Solids.crate(Local.IDENTITY, whole.withInfluences(rows.build())), "shatter.flexes");
    }

    private static void refused(Asset asset, String reason) {
        assertThatThrownBy(() -> broken(5, true, 0).apply(asset, Work.QUIET))
                .isInstanceOfSatisfying(
                        Refused.class, r -> assertThat(r.reason().key()).endsWith(reason));
    }
}
