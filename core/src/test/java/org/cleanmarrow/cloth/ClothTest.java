package org.cleanmarrow.cloth;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntToDoubleFunction;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Filter;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.Mechanics;
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
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** How a cloth moves, against textbook mechanics. */
public class ClothTest {
    private static final double RATE = 60;
    private static final Fabric LOOSE = new Fabric(0.5, 0.005, 0, 100, 0, 0, 1, 160, false);

    /** A place of a grid. */
    interface Place {
        Vector3d at(int column, int row);
    }

    static Primitive grid(int columns, int rows, Place place) {
        float[] p = new float[3 * columns * rows];
        List<Integer> corners = new ArrayList<>();
        for (int r = 0; r < rows; r++) {
            for (int c = 0; c < columns; c++) {
                Vector3d at = place.at(c, r);
                int v = r * columns + c;
                p[3 * v] = (float) at.x;
                p[3 * v + 1] = (float) at.y;
                p[3 * v + 2] = (float) at.z;
                if (r > 0 && c > 0) {
                    corners.addAll(List.of(v - columns - 1, v - 1, v, v - columns - 1, v, v - columns));
                }
            }
        }
        return Primitive.triangles(corners.stream().mapToInt(Integer::intValue).toArray(), p, null, -1);
    }

    /** A cloth at the first node; what it bumps into is at the second. @param strays by vertex */
    static Asset asset(Primitive cloth, IntToDoubleFunction strays, double seconds, Attached... things) {
        float[] stray = new float[cloth.vertexCount()];
        for (int v = 0; v < stray.length; v++) {
            stray[v] = (float) strays.applyAsDouble(v);
        }
        Sampler still = new Sampler(
                Sampler.Interpolation.LINEAR, new float[] {0, (float) seconds}, new float[6], 3, Storage.FLOAT);
        Clip clip = new Clip(
                "clip",
                List.of(new Channel(1, Channel.Path.TRANSLATION, still, "", Passthrough.NONE)),
                RATE,
                false,
                true,
                List.of(),
                Passthrough.NONE);
        return Asset.of(
                        "cloth",
                        Conventions.GLTF,
                        List.of(
                                Node.group("sheet", Local.IDENTITY).withMesh(0, -1),
                                Node.group("body", Local.IDENTITY)),
                        List.of(Strays.with(Mesh.of("sheet", cloth), stray)),
                        List.of(),
                        List.of(clip))
                .withAttached(List.of(things));
    }

    private static List<double[]> played(Asset asset, Fabric fabric, int settle) {
        ClothRun run = new ClothRun(
                asset,
                new Deformer(asset).places().getFirst(),
                fabric,
                asset.clips().getFirst());
        return played(run, asset, settle);
    }

    private static List<double[]> played(ClothRun run, Asset asset, int settle) {
        int count = (int) Math.rint(asset.clips().getFirst().seconds() * RATE) + 1;
        float[] seconds = new float[count];
        for (int k = 0; k < count; k++) {
            seconds[k] = (float) (k / RATE);
        }
        VertexFrames frames = run.frames(seconds, settle, Work.QUIET);
        List<double[]> out = new ArrayList<>();
        float[] one = new float[3 * frames.vertices()];
        for (int k = 0; k < count; k++) {
            frames.read(k, one);
            double[] at = new double[one.length];
            Arrays.setAll(at, i -> one[i]);
            out.add(at);
        }
        return out;
    }

    private static Vector3d at(double[] frame, int v) {
        return new Vector3d(frame[3 * v], frame[3 * v + 1], frame[3 * v + 2]);
    }

    @DataProvider
    public Object[][] angles() {
        return new Object[][] {{5.0}, {60.0}, {120.0}};
    }

    @Test(dataProvider = "angles")
    public void aPendulumTakesItsPeriod(double degrees) {
        double length = 0.8;
        double angle = Math.toRadians(degrees);
        Primitive triangle = Primitive.triangles(
                new int[] {0, 1, 2},
                new float[] {
                    0, 0, -0.2f, 0, 0, 0.2f, (float) (length * Math.sin(angle)), (float) (-length * Math.cos(angle)), 0
                },
                null,
                -1);
        List<double[]> frames = played(asset(triangle, v -> v < 2 ? 0 : 1, 6), LOOSE, 0);
        double[] aside = frames.stream().mapToDouble(f -> f[6]).toArray();
        double period = Mechanics.period(length, angle);
        assertThat(Mechanics.period(aside, RATE)).isCloseTo(period, within(0.01 * period));
    }

    /** A chain between two nails hangs in y = a cosh(x / a), with 2 a sinh(d / 2a) its length (textbook). */
    @Test
    public void aRibbonBetweenTwoPinsHangsInACatenary() {
        int many = 41;
        double apart = 1;
        double length = 1.5;
        double half = Math.sqrt(length * length - apart * apart) / 2;
        Primitive ribbon = grid(many, 2, (c, r) -> {
            double t = 2.0 * c / (many - 1) - 1;
            return new Vector3d(t * apart / 2, -half * (1 - Math.abs(t)), 0.02 * r);
        });
        Fabric heavy = new Fabric(0.5, 0.005, 0, 100, 1.5, 0, 1, 40, false);
        Asset asset = asset(ribbon, v -> v % many == 0 || v % many == many - 1 ? 0 : 1, 8);
        double[] last = played(asset, heavy, 0).getLast();
        double a = 0.1;
        for (double step = 1; step > 1e-12; step /= 2) {
            while (2 * (a + step) * Math.sinh(apart / 2 / (a + step)) > length) {
                a += step;
            }
        }
        double top = a * Math.cosh(apart / 2 / a);
        for (int c = 0; c < many; c++) {
            Vector3d p = at(last, c);
            assertThat(p.y).as("point " + c).isCloseTo(a * Math.cosh(p.x / a) - top, within(0.01 * apart));
        }
    }

    /** Nothing pushes it: what it loses in height it has at most in speed. */
    @Test
    public void energyDoesNotGrow() {
        int many = 12;
        Asset asset = asset(grid(many, many, (c, r) -> new Vector3d(0.1 * c, 0, 0.1 * r)), v -> v < many ? 0 : 1, 3);
        ClothRun run = new ClothRun(
                asset,
                new Deformer(asset).places().getFirst(),
                LOOSE,
                asset.clips().getFirst());
        ClothSolver solver = run.solver();
        double before = solver.energy();
        double[] still = solver.positions().clone();
        double falls = 0;
        for (int k = 0; k < 240; k++) {
            solver.frame(still, still, 1 / RATE, Work.QUIET);
            assertThat(solver.energy()).as("frame " + k).isLessThan(before);
            falls = Math.min(falls, solver.positions()[solver.positions().length - 2]);
        }
        assertThat(falls).as("it swung").isLessThan(-0.9);
    }

    @Test
    public void aHangingSheetStretchesLittle() {
        int columns = 50;
        int rows = 80;
        Asset asset = asset(
                grid(columns, rows, (c, r) -> new Vector3d(0.02 * c, 0, -0.02 * r)),
                v -> v < columns ? 0 : 1,
                1,
                new ClothSection(0, Fabric.PLAIN));
        ClothRun run = new ClothRun(
                asset,
                new Deformer(asset).places().getFirst(),
                Fabric.PLAIN,
                asset.clips().getFirst());
        played(run, asset, 20);
        // Before the clip it fell from level, and swings still. In its worst frame 99 of 100 edges:
        assertThat(run.mostStretch()).isBetween(1e-6, 0.02);
    }

    @Test
    public void twiceIsTheSameToTheBit() {
        Fabric fabric = new Fabric(0.5, 0.005, 0, 1e-3, 0.5, 0.4, 1, 20, true);
        Asset asset = asset(
                grid(24, 24, (c, r) -> new Vector3d(0.02 * c, 0, -0.02 * r)),
                v -> v < 24 ? 0 : 1,
                1,
                new ClothSection(0, fabric),
                collider(Frame.NONE, new Shape.Sphere(0.1), 0.6));
        List<double[]> once = played(asset, fabric, 10);
        List<double[]> again = played(asset, fabric, 10);
        for (int k = 0; k < once.size(); k++) {
            assertThat(again.get(k)).as("frame " + k).isEqualTo(once.get(k));
        }
    }

    private static Collider collider(Frame at, Shape shape, double friction) {
        Surface surface = new Surface(friction, friction, 0, "average", "average");
        return new Collider("", 1, at, shape, Collider.Role.SOLID, surface, Filter.ALL);
    }

    @Test
    public void aSheetThatFallsOnABallStaysOutsideIt() {
        int many = 40;
        Fabric fabric = new Fabric(0.5, 0.01, 0, 1e-3, 1, 0.6, 1, 40, true);
        Asset asset = asset(
                grid(many, many, (c, r) -> new Vector3d(0.025 * c - 0.5, 0.35, 0.025 * r - 0.5)),
                v -> 1,
                1.5,
                collider(Frame.NONE, new Shape.Sphere(0.3), 0.6));
        double lowest = 0;
        for (double[] frame : played(asset, fabric, 0)) {
            for (int v = 0; v < many * many; v++) {
                assertThat(at(frame, v).length()).isGreaterThan(0.31 - 1e-6);
                lowest = Math.min(lowest, at(frame, v).y);
            }
        }
        assertThat(lowest).as("it hangs down around it").isLessThan(-0.1);
    }

    /** Two sheets of one cloth, the lower pinned: what falls on it stays above only where the cloth bumps into itself. */
    @Test
    public void aClothBumpsIntoItselfWhereItIsAskedTo() {
        int many = 12;
        Primitive two = grid(
                many,
                2 * many,
                (c, r) -> new Vector3d(
                        0.05 * c + (r < many ? 0 : 0.021),
                        r < many ? 0 : 0.2,
                        0.05 * (r % many) + (r < many ? 0 : 0.013)));
        int[] corners = two.indices();
        // Without the row between them.
        int[] apart = java.util.stream.IntStream.range(0, corners.length / 3)
                .filter(t -> Math.max(corners[3 * t], Math.max(corners[3 * t + 1], corners[3 * t + 2])) < many * many
                        || Math.min(corners[3 * t], Math.min(corners[3 * t + 1], corners[3 * t + 2])) >= many * many)
                .flatMap(t -> java.util.stream.IntStream.range(3 * t, 3 * t + 3))
                .map(i -> corners[i])
                .toArray();
        Asset asset = asset(two.withIndices(Primitive.Mode.TRIANGLES, apart), v -> v < many * many ? 0 : 1, 0.5);
        for (boolean itself : new boolean[] {true, false}) {
            Fabric fabric = new Fabric(0.5, 0.005, 0, 1e-3, 1, 0.4, 1, 40, itself);
            double[] last = played(asset, fabric, 0).getLast();
            double lowest = 1;
            for (int v = many * many; v < 2 * many * many; v++) {
                lowest = Math.min(lowest, at(last, v).y);
            }
            if (itself) {
                assertThat(lowest).isGreaterThan(0);
            } else {
                assertThat(lowest).isLessThan(-0.5);
            }
        }
    }

    /** A body on a slope stays where the tangent of the angle is below the friction, and slides above it (Coulomb). */
    @Test
    public void frictionHoldsUpToItsAngle() {
        for (double friction : new double[] {0.3, 0.7}) {
            for (double share : new double[] {0.8, 1.25}) {
                double angle = Math.atan(friction) * share;
                Quaterniond turn = new Quaterniond().rotateZ(-angle);
                Collider slope = collider(
                        Frame.at(turn.transform(new Vector3d(0, -0.5, 0)), turn), new Shape.Box(20, 1, 20), friction);
                Primitive flat = grid(3, 3, (c, r) -> turn.transform(new Vector3d(0.1 * c, 0.005, 0.1 * r)));
                Fabric fabric = new Fabric(0.5, 0.005, 0, 1e-3, 0, friction, 1, 20, false);
                List<double[]> frames = played(asset(flat, v -> 1, 1, slope), fabric, 0);
                double slid = at(frames.getLast(), 4).distance(at(frames.getFirst(), 4));
                double pull = Mechanics.G * (Math.sin(angle) - friction * Math.cos(angle));
                if (share < 1) {
                    assertThat(slid).as("stays at " + friction).isLessThan(1e-3);
                } else {
                    assertThat(slid).as("slides at " + friction).isCloseTo(pull / 2, within(0.05 * pull));
                }
            }
        }
    }

    /** A hull off its node's middle, at a node that mirrors: what lies in its mirror image is put out, what lies in it is not. */
    @Test
    public void aMirroredHullIsMetWhereItStands() {
        float[] points = {1, -1, -1, 3, -1, -1, 3, 1, -1, 1, 1, 1};
        Obstacle o = Obstacle.of(collider(Frame.NONE, new Shape.Solid(points, new int[0], true), 0))
                .orElseThrow();
        org.joml.Matrix4d mirror = new org.joml.Matrix4d().scaling(-1, 1, 1);
        o.frame(mirror, mirror);
        o.at(1);
        double[] inside = {-1.9, -0.2, -0.4};
        assertThat(o.near(inside, 0, 0)).isTrue();
        assertThat(o.put(inside, 0, 0, new double[3])).isPositive();
        double[] outside = {1.9, -0.2, -0.4};
        assertThat(o.near(outside, 0, 0) && o.put(outside, 0, 0, new double[3]) > 0)
                .isFalse();
    }

    /** A point goes out to where the surface is nearest, found by many points of the surface. */
    @Test
    public void whatLiesInsideIsPutOutTheShortestWay() {
        Shape hull = org.cleanmarrow.collision.Hull.of(new double[] {-1, -1, -1, 1, -1, -1, 0, -1, 1.5, 0.2, 1.2, 0})
                .orElseThrow()
                .shape();
        List<Shape> shapes = List.of(
                new Shape.Sphere(0.7),
                new Shape.Box(1, 0.6, 1.4),
                new Shape.Capsule(0.5, 0.2, 0.9),
                new Shape.Capsule(0.2, 0.7, 0.2),
                new Shape.Cylinder(0.6, 0.6, 1),
                new Shape.Cylinder(0.7, 0.2, 0.8),
                hull);
        java.util.Random random = new java.util.Random(5);
        for (Shape shape : shapes) {
            Frame stands = Frame.at(new Vector3d(0.3, -0.2, 0.1), new Quaterniond().rotateXYZ(0.4, 1, -0.3));
            Obstacle o = Obstacle.of(collider(stands, shape, 0)).orElseThrow();
            o.frame(new org.joml.Matrix4d(), new org.joml.Matrix4d());
            o.at(1);
            for (int i = 0; i < 400; i++) {
                double[] p = random.doubles(3, -1.2, 1.2).toArray();
                double[] was = p.clone();
                double deep = o.put(p, 0, 0, new double[3]);
                double moved = Math.sqrt(Arrays.stream(new int[] {0, 1, 2})
                        .mapToDouble(k -> (p[k] - was[k]) * (p[k] - was[k]))
                        .sum());
                assertThat(moved).isCloseTo(deep, within(1e-9));
                // On the surface now, and no shorter way out by a little.
                assertThat(o.put(p.clone(), 0, 0, new double[3])).isLessThan(1e-9);
                for (int k = 0; k < 40 && deep > 0; k++) {
                    Vector3d aside = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian())
                            .normalize(0.98 * deep);
                    double[] q = {was[0] + aside.x, was[1] + aside.y, was[2] + aside.z};
                    assertThat(o.put(q, 0, 0, new double[3]))
                            .as(shape.kind() + " " + Arrays.toString(was))
                            .isPositive();
                }
            }
        }
    }
}
