package org.cleanmarrow.simulation;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Hull;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.kit.Mechanics;
import org.cleanmarrow.kit.Solids;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Free bodies against textbook mechanics. */
public class BodyRunTest {
    private static final double RATE = 60;
    private static final RigidJoint.Limit PINNED = new RigidJoint.Limit(false, 7, 0, 0);

    private static Asset asset(List<Node> nodes, List<Clip> clips, Attached... things) {
        return Asset.of("bodies", Conventions.GLTF, nodes, List.of(), List.of(), clips)
                .withAttached(List.of(things));
    }

    private static Node at(String name, Vector3d place, Quaterniond turn) {
        return Node.group(name, Local.of(place, turn, new Vector3d(1)));
    }

    private static Node at(String name, double x, double y, double z) {
        return at(name, new Vector3d(x, y, z), new Quaterniond());
    }

    private static Collider solid(int node, Shape shape, double friction) {
        Surface surface = new Surface(friction, friction, 0, "average", "average");
        return new Collider("", node, Frame.NONE, shape, Collider.Role.SOLID, surface, Filter.ALL);
    }

    private static RigidBody free(int node) {
        return new RigidBody(node, RigidBody.Kind.FREE, 2);
    }

    private static List<Map<Integer, Matrix4d>> run(Asset asset, double seconds) {
        Clip clip = asset.clips().isEmpty() ? null : asset.clips().getFirst();
        float[] times = new float[(int) Math.rint(seconds * RATE) + 1];
        for (int k = 0; k < times.length; k++) {
            times[k] = (float) (k / RATE);
        }
        return BodyRun.run(asset, clip, Double.NaN, times, List.of(), Work.QUIET)
                .frames();
    }

    private static Vector3d place(Map<Integer, Matrix4d> frame, int node) {
        return frame.get(node).getTranslation(new Vector3d());
    }

    private static Vector3d place(Matrix4d[] frame, int node) {
        return frame[node].getTranslation(new Vector3d());
    }

    /** Half of g t squared (textbook). */
    @Test
    public void whatIsLetGoFalls() {
        Asset asset = asset(List.of(at("ball", 0, 10, 0)), List.of(), solid(0, new Shape.Sphere(0.1), 0.5), free(0));
        assertThat(place(run(asset, 1).getLast(), 0).y).isCloseTo(10 - Mechanics.G / 2, within(0.01 * Mechanics.G / 2));
    }

    @DataProvider
    public Object[][] angles() {
        return new Object[][] {{5.0}, {60.0}};
    }

    /** A ball on a rod, its moment of inertia m (L L + 2/5 r r). */
    @Test(dataProvider = "angles")
    public void aPendulumTakesItsPeriod(double degrees) {
        double length = 0.6;
        double r = 0.1;
        double angle = Math.toRadians(degrees);
        Quaterniond turn = new Quaterniond().rotateZ(angle);
        RigidJoint joint =
                new RigidJoint("", 0, Frame.at(new Vector3d(0, length, 0)), -1, List.of(PINNED), List.of(), false);
        Asset asset = asset(
                List.of(at("ball", turn.transform(new Vector3d(0, -length, 0)), turn)),
                List.of(),
                solid(0, new Shape.Sphere(r), 0),
                free(0),
                joint);
        List<Map<Integer, Matrix4d>> frames = run(asset, 4);
        for (Map<Integer, Matrix4d> frame : frames) {
            assertThat(place(frame, 0).length()).as("the rod holds").isCloseTo(length, within(0.005));
        }
        double[] aside = frames.stream().mapToDouble(f -> place(f, 0).x).toArray();
        double period = Mechanics.period(length + 0.4 * r * r / length, angle);
        assertThat(Mechanics.period(aside, RATE)).isCloseTo(period, within(0.015 * period));
    }

    /** A box on a slope stays where the tangent of the angle is below the friction, and slides above it (Coulomb). */
    @Test
    public void frictionHoldsUpToItsAngle() {
        for (double friction : new double[] {0.3, 0.7}) {
            for (double share : new double[] {0.8, 1.3}) {
                double angle = Math.atan(friction) * share;
                Quaterniond turn = new Quaterniond().rotateZ(-angle);
                Asset asset = asset(
                        List.of(
                                at("slope", turn.transform(new Vector3d(0, -0.5, 0)), turn),
                                at("box", turn.transform(new Vector3d(0, 0.1, 0)), turn)),
                        List.of(),
                        solid(0, new Shape.Box(40, 1, 40), friction),
                        solid(1, new Shape.Box(0.4, 0.2, 0.4), friction),
                        new RigidBody(0, RigidBody.Kind.STILL, 0),
                        free(1));
                List<Map<Integer, Matrix4d>> frames = run(asset, 1);
                double slid = place(frames.getLast(), 1).distance(place(frames.getFirst(), 1));
                double pull = Mechanics.G * (Math.sin(angle) - friction * Math.cos(angle));
                if (share < 1) {
                    assertThat(slid).as("stays at " + friction).isLessThan(0.005);
                } else {
                    assertThat(slid).as("slides at " + friction).isCloseTo(pull / 2, within(0.06 * pull / 2));
                }
            }
        }
    }

    private static Asset stack(int boxes) {
        List<Node> nodes = new ArrayList<>(List.of(at("floor", 0, -0.5, 0)));
        List<Attached> things = new ArrayList<>(
                List.of(solid(0, new Shape.Box(10, 1, 10), 0.6), new RigidBody(0, RigidBody.Kind.STILL, 0)));
        for (int i = 1; i <= boxes; i++) {
            nodes.add(at("box" + i, 0, 0.3 * i - 0.15, 0));
            things.add(solid(i, new Shape.Box(0.3, 0.3, 0.3), 0.6));
            things.add(free(i));
        }
        return asset(nodes, List.of(), things.toArray(Attached[]::new));
    }

    @Test
    public void aStackStandsAndComesOutTheSameTwice() {
        Asset asset = stack(5);
        List<Map<Integer, Matrix4d>> frames = run(asset, 3);
        for (int i = 1; i <= 5; i++) {
            assertThat(place(frames.getLast(), i).distance(place(frames.getFirst(), i)))
                    .isLessThan(0.005);
        }
        List<Map<Integer, Matrix4d>> again = run(asset, 3);
        for (int k = 0; k < frames.size(); k++) {
            assertThat(again.get(k)).as("frame " + k).isEqualTo(frames.get(k));
        }
    }

    /** Heavy below its middle, a ball rights itself; its period is that of the same as a pendulum would be (textbook, small angle). */
    @Test
    public void theCentreOfMassIsWhereItIsSaid() throws Exception {
        Node ball = at("ball", new Vector3d(), new Quaterniond().rotateZ(0.1));
        RigidJoint joint = new RigidJoint("", 0, Frame.NONE, -1, List.of(PINNED), List.of(), false);
        Asset plain = asset(List.of(ball), List.of(), solid(0, new Shape.Sphere(0.1), 0), joint);
        Asset heavy = new SetBody("ball", RigidBody.Kind.FREE, 2, 0, 0, 0, 1, -1, -1, SetBody.Centre.GIVEN, 0, -0.05, 0)
                .apply(plain, Work.QUIET)
                .asset();
        double[] angles = run(heavy, 3).stream()
                .mapToDouble(f -> Math.atan2(f.get(0).m01(), f.get(0).m00()))
                .toArray();
        double length = (0.4 * 0.1 * 0.1 + 0.05 * 0.05) / 0.05;
        double period = Mechanics.period(length, 0.1);
        assertThat(Mechanics.period(angles, RATE)).isCloseTo(period, within(0.015 * period));
    }

    /** A spring of stiffness k about a hinge's axis swings a wheel in 2 pi times the root of inertia over k (textbook). */
    @Test
    public void aDriveIsASpring() {
        double r = 0.2;
        double k = 1.5;
        List<RigidJoint.Limit> hinge = List.of(PINNED, new RigidJoint.Limit(true, 3, 0, 0));
        RigidJoint.Drive drive = new RigidJoint.Drive(true, 2, false, Double.POSITIVE_INFINITY, 0.4, 0, k, 0);
        RigidJoint joint = new RigidJoint("", 0, Frame.NONE, -1, hinge, List.of(drive), false);
        Asset asset = asset(List.of(at("wheel", 0, 0, 0)), List.of(), solid(0, new Shape.Sphere(r), 0), free(0), joint);
        List<Map<Integer, Matrix4d>> frames = run(asset, 3);
        double[] angles = frames.stream()
                .mapToDouble(f -> Math.atan2(f.get(0).m01(), f.get(0).m00()) - 0.4)
                .toArray();
        double period = 2 * Math.PI * Math.sqrt(0.4 * 2 * r * r / k);
        assertThat(Mechanics.period(angles, RATE)).isCloseTo(period, within(0.02 * period));
        // It swings about where it is drawn to, as far to either side.
        assertThat(Arrays.stream(angles).max().orElseThrow()).isBetween(0.3, 0.41);
        assertThat(Arrays.stream(angles).min().orElseThrow()).isCloseTo(-0.4, within(0.01));
    }

    /** Held level by a spring, a rod sags until k times the angle is m g l times its cosine (textbook); stiff ones are steady too. */
    @Test
    public void aDriveHoldsAWeightSteadily() {
        for (double k : new double[] {40, 4000, 4e6}) {
            RigidJoint.Drive drive = new RigidJoint.Drive(true, 2, false, Double.POSITIVE_INFINITY, 0, 0, k, k / 10);
            RigidJoint joint = new RigidJoint(
                    "", 0, Frame.at(new Vector3d(-0.5, 0, 0)), -1, List.of(PINNED), List.of(drive), false);
            Asset asset = asset(
                    List.of(at("rod", 0.5, 0, 0)), List.of(), solid(0, new Shape.Sphere(0.05), 0), free(0), joint);
            List<Map<Integer, Matrix4d>> frames = run(asset, 6);
            double angle = 0;
            for (int i = 0; i < 50; i++) {
                angle = 2 * Mechanics.G * 0.5 * Math.cos(angle) / k;
            }
            Matrix4d end = frames.getLast().get(0);
            assertThat(Math.atan2(-end.m01(), end.m00())).isCloseTo(angle, within(0.02 * angle + 5e-4));
            assertThat(end.getTranslation(new Vector3d()).distance(place(frames.get(frames.size() - 30), 0)))
                    .isLessThan(1e-4);
        }
    }

    /** Drawn at, a body comes to hang where the spring of the hand holds its weight: g over the square of its speed below. */
    @Test
    public void whatIsDrawnAtComesThere() {
        Asset asset = asset(List.of(at("ball", 0, 0, 0)), List.of(), solid(0, new Shape.Sphere(0.1), 0.5), free(0));
        float[] times = new float[120];
        List<List<BodyWorld.Pull>> pulls = new ArrayList<>();
        for (int k = 0; k < times.length; k++) {
            times[k] = k / 60f;
            pulls.add(List.of(new BodyWorld.Pull(0, new Vector3d(), new Vector3d(1, 2, 3))));
        }
        BodyRun.Result result = BodyRun.run(asset, null, Double.NaN, times, pulls, Work.QUIET);
        assertThat(place(result.frames().getLast(), 0).distance(1, 2 - Mechanics.G / 400, 3))
                .isLessThan(1e-3);
    }

    /** Frame by frame with other worlds between is the same to the bit as at one go. */
    @Test
    public void worldsDoNotDisturbEachOther() {
        Asset asset = stack(5);
        List<Map<Integer, Matrix4d>> whole = run(asset, 0.5);
        try (BodyWorld one = new BodyWorld(asset, null, Double.NaN, 0);
                BodyWorld other = new BodyWorld(stack(3), null, Double.NaN, 0)) {
            for (int k = 1; k < whole.size(); k++) {
                one.advance((float) (k / RATE), List.of());
                other.advance((float) (k / RATE), List.of());
                assertThat(one.frame()).isEqualTo(whole.get(k));
            }
        }
    }

    /** Two balls in one place fly apart with energy that nobody gave them, and it is said; those that fall alone gain none. */
    @Test
    public void energyFromNowhereIsFound() {
        Asset apart = asset(
                List.of(at("a", 0, 0, 0), at("b", 1, 0, 0)),
                List.of(),
                solid(0, new Shape.Sphere(0.1), 0.5),
                solid(1, new Shape.Sphere(0.1), 0.5),
                free(0),
                free(1));
        Asset within = apart.withNodes(List.of(at("a", 0, 0, 0), at("b", 0.02, 0, 0)));
        float[] times = {0, 0.05f, 0.1f, 0.15f};
        assertThat(BodyRun.run(apart, null, Double.NaN, times, List.of(), Work.QUIET)
                        .grown())
                .isZero();
        assertThat(BodyRun.run(within, null, Double.NaN, times, List.of(), Work.QUIET)
                        .grown())
                .isGreaterThan(0.5);
    }

    /** Whatever is let go a little above whatever lies below comes to stand on it, upright and at its own height. */
    @Test
    public void everyShapeStandsOnEveryOther() {
        Shape.Solid block = (Shape.Solid) cornered(6, 1, 6);
        List<Shape> floors = List.of(
                new Shape.Box(6, 1, 6),
                block,
                new Shape.Solid(block.points(), block.triangles(), false),
                new Shape.Cylinder(3, 3, 1));
        List<Shape> bodies = List.of(
                new Shape.Box(0.4, 0.4, 0.4),
                new Shape.Cylinder(0.2, 0.2, 0.4),
                new Shape.Cylinder(0.2, 0.1, 0.4),
                cornered(0.4, 0.4, 0.4),
                new Shape.Sphere(0.2));
        for (Shape body : bodies) {
            for (int f = 0; f <= floors.size(); f++) {
                List<Attached> things = new ArrayList<>(List.of(solid(1, body, 0.6), free(1)));
                if (f < floors.size()) {
                    things.add(solid(0, floors.get(f), 0.6));
                    things.add(new RigidBody(0, RigidBody.Kind.STILL, 0));
                }
                Asset asset = asset(
                        List.of(at("floor", 0, -0.5, 0), at("body", 0.3, 0.25, 0.2)),
                        List.of(),
                        things.toArray(Attached[]::new));
                float[] times = new float[90];
                for (int k = 0; k < times.length; k++) {
                    times[k] = k / 60f;
                }
                double floor = f < floors.size() ? Double.NaN : 0;
                Map<Integer, Matrix4d> end = BodyRun.run(asset, null, floor, times, List.of(), Work.QUIET)
                        .frames()
                        .getLast();
                String which = body.kind() + " on " + f;
                assertThat(place(end, 1).y).as(which).isCloseTo(0.2, within(0.01));
            }
        }
    }

    private static Shape cornered(double x, double y, double z) {
        double[] p = new double[24];
        for (int i = 0; i < 8; i++) {
            p[3 * i] = (i & 1) == 0 ? -x / 2 : x / 2;
            p[3 * i + 1] = (i & 2) == 0 ? -y / 2 : y / 2;
            p[3 * i + 2] = (i & 4) == 0 ? -z / 2 : z / 2;
        }
        return Hull.of(p).orElseThrow().shape();
    }

    /** What falls for 44 metres has left a cube of one; what lies far from the origin has not. */
    @Test
    public void whatGoesAwayIsFoundFromWhereItBegan() {
        Solids.Solid cube = Solids.box(-0.5, -0.5, -0.5, 0.5, 0.5, 0.5);
        for (double far : new double[] {0, 500}) {
            Node part = at("cube", far, 0.5, 0).withMesh(0, -1);
            Asset asset = Asset.of(
                            "bodies",
                            Conventions.GLTF,
                            List.of(part),
                            List.of(Mesh.of("cube", Primitive.triangles(cube.corners(), cube.positions(), null, -1))),
                            List.of(),
                            List.of())
                    .withAttached(List.of(solid(0, new Shape.Box(1, 1, 1), 0.5), free(0)));
            float[] times = {0, 1, 2, 3};
            assertThat(BodyRun.run(asset, null, 0, times, List.of(), Work.QUIET).away())
                    .isEmpty();
            assertThat(BodyRun.run(asset, null, Double.NaN, times, List.of(), Work.QUIET)
                            .away())
                    .containsExactly(0);
        }
    }

    /** A hinge with stops, and a ball that may lean within a cone: neither goes beyond, though it falls with all its weight. */
    @Test
    public void limitsHold() {
        double most = Math.toRadians(30);
        RigidJoint.Limit hinge = new RigidJoint.Limit(true, 4, -most, most);
        RigidJoint.Limit still = new RigidJoint.Limit(true, 3, 0, 0);
        RigidJoint.Limit cone = new RigidJoint.Limit(true, 6, 0, most);
        RigidJoint.Limit twist = new RigidJoint.Limit(true, 1, -0.2, 0.2);
        for (List<RigidJoint.Limit> limits : List.of(List.of(PINNED, still, hinge), List.of(PINNED, cone, twist))) {
            Asset asset = asset(
                    List.of(at("arm", 0, 0, 0)),
                    List.of(),
                    new Collider("", 0, Frame.at(new Vector3d(0.5, 0, 0)), new Shape.Box(1, 0.1, 0.1)),
                    free(0),
                    new RigidJoint("", 0, Frame.NONE, -1, limits, List.of(), false));
            double lowest = 0;
            for (Map<Integer, Matrix4d> frame : run(asset, 2)) {
                Vector3d tip = frame.get(0).transformDirection(new Vector3d(1, 0, 0));
                lowest = Math.max(lowest, Math.asin(-tip.y));
            }
            assertThat(lowest).as("%d limits", limits.get(1).axes()).isBetween(most - 0.05, most + 0.05);
        }
    }

    /** A hinge that gives more one way than the other gives the same way in centimetres, with Z up and mirrored. */
    @Test
    public void stopsAreTheSameInOtherAxes() throws Exception {
        for (double[] bounds : new double[][] {{-0.3, 0.9}, {-0.9, 0.3}}) {
            Asset asset = asset(
                    List.of(at("arm", 0, 0, 0).withChildren(new int[] {1}), at("tip", 1, 0, 0)),
                    List.of(),
                    new Collider("", 0, Frame.at(new Vector3d(0.5, 0, 0)), new Shape.Box(1, 0.1, 0.1)),
                    free(0),
                    new RigidJoint(
                            "",
                            0,
                            Frame.NONE,
                            -1,
                            List.of(
                                    PINNED,
                                    new RigidJoint.Limit(true, 3, 0, 0),
                                    new RigidJoint.Limit(true, 4, bounds[0], bounds[1])),
                            List.of(),
                            false));
            double falls = lowest(asset);
            assertThat(falls).isCloseTo(Math.sin(bounds[0]), within(0.04));
            Asset turned = new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), true)
                    .apply(asset, Work.QUIET)
                    .asset();
            assertThat(lowest(turned)).isCloseTo(falls, within(0.01));
        }
    }

    /** How far the tip falls, in metres. */
    private static double lowest(Asset asset) throws Refused {
        Asset done = new SimulateBodies("", 2, "").apply(asset, Work.QUIET).asset();
        Matrix4d back =
                Conversion.between(asset.conventions(), Conventions.GLTF).matrix();
        Clip clip = done.clips().getFirst();
        double out = 0;
        for (int f = 0; f <= clip.lastFrame(); f++) {
            Vector3d tip = place(new Rig(done).at(clip, f / clip.rate()).world(), 1);
            out = Math.min(out, back.transformPosition(tip).y);
        }
        return out;
    }

    /** What keys move takes along what lies on it; what hangs below a body goes with it. */
    @Test
    public void aMovedFloorCarriesAndTheClipIsKept() throws Exception {
        Sampler slides = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {0, 2},
                new float[] {0, -0.5f, 0, 1, -0.5f, 0},
                3,
                Storage.FLOAT);
        Clip clip = new Clip(
                "slide",
                List.of(new Channel(0, Channel.Path.TRANSLATION, slides, "", Passthrough.NONE)),
                RATE,
                false,
                true,
                List.of(),
                Passthrough.NONE);
        Asset asset = asset(
                List.of(
                        at("floor", 0, -0.5, 0),
                        at("box", 0, 0.15, 0).withChildren(new int[] {2}),
                        at("lid", 0, 0.2, 0)),
                List.of(clip),
                solid(0, new Shape.Box(10, 1, 10), 0.8),
                solid(1, new Shape.Box(0.3, 0.3, 0.3), 0.8),
                new RigidBody(0, RigidBody.Kind.KEYFRAMED, 0),
                free(1));
        Asset done = new SimulateBodies("slide").apply(asset, Work.QUIET).asset();
        Clip made = done.clips().get(1);
        assertThat(made.name()).isEqualTo("slide_bodies");
        assertThat(made.channels()).extracting(Channel::node).containsExactlyInAnyOrder(0, 1, 1);
        Matrix4d[] end = new Rig(done).at(made, 2).world();
        assertThat(place(end, 1).x).isCloseTo(1, within(0.02));
        assertThat(place(end, 2)).satisfies(p -> assertThat(p.y).isCloseTo(0.35, within(0.01)));

        // In centimetres, with Z up and mirrored: the same.
        Asset turned = new Convert(Conventions.parse("z-up-cm-lh").orElseThrow(), true)
                .apply(asset, Work.QUIET)
                .asset();
        Asset other = new SimulateBodies("slide").apply(turned, Work.QUIET).asset();
        Matrix4d back =
                Conversion.between(turned.conventions(), Conventions.GLTF).matrix();
        Vector3d there = back.transformPosition(
                place(new Rig(other).at(other.clips().get(1), 2).world(), 1));
        assertThat(there.distance(place(end, 1))).isLessThan(0.02);
    }

    @Test
    public void whatMakesNoSenseIsRefused() {
        Asset still = asset(List.of(at("floor", 0, 0, 0)), List.of(), new RigidBody(0, RigidBody.Kind.STILL, 0));
        assertThatThrownBy(() -> new SimulateBodies("").apply(still, Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("free");
        Asset loose = asset(List.of(at("ball", 0, 0, 0)), List.of(), free(0));
        assertThatThrownBy(() -> new SimulateBodies("walk").apply(loose, Work.QUIET))
                .hasMessageContaining("walk");
        assertThatThrownBy(() -> new SimulateBodies("", 1, "", SimulateBodies.Floor.LOWEST).apply(loose, Work.QUIET))
                .isInstanceOfSatisfying(
                        Refused.class, r -> assertThat(r.reason().key()).endsWith("simulate.floor"));
        assertThatThrownBy(() -> new SimulateBodies("", 0, "").apply(loose, Work.QUIET))
                .isInstanceOf(Refused.class);
        assertThatThrownBy(() -> new SimulateBodies("", 60, "").apply(loose, Work.QUIET))
                .hasMessageContaining("left");
    }
}
