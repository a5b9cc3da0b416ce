package org.cleanmarrow.collision;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.InputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Fitted shapes against SciPy ({@code tools/reference/shapes.py}), worked cases and formulas. */
public class FitTest {
    private static JsonNode reference() throws Exception {
        try (InputStream in = FitTest.class.getResourceAsStream("shapes.json")) {
            return JsonMapper.shared().readTree(in);
        }
    }

    private static double[] doubles(JsonNode list) {
        return list.valueStream().mapToDouble(JsonNode::doubleValue).toArray();
    }

    @Test
    public void hullsAndSpheresAreSciPys() throws Exception {
        for (JsonNode one : reference().path("fits")) {
            double[] points = doubles(one.path("points"));
            Hull hull = Hull.of(points).orElseThrow();
            double volume = one.path("hull").doubleValue();
            assertThat(hull.volume()).isCloseTo(volume, within(1e-9 * volume));
            double radius = one.path("sphere").doubleValue();
            SmallestSphere ball = SmallestSphere.of(points);
            // SLSQP comes within 1e-7 of the least radius from above; ours is exact.
            assertThat(ball.radius()).isBetween(radius * (1 - 1e-6), radius * (1 + 1e-9));
            for (int i = 0; i < points.length; i += 3) {
                assertThat(ball.centre().distance(points[i], points[i + 1], points[i + 2]))
                        .isLessThanOrEqualTo(ball.radius() * (1 + 1e-9));
            }
        }
    }

    @Test
    public void boxesAreAsTightAsSciPysSearchFinds() throws Exception {
        for (JsonNode one : reference().path("fits")) {
            double[] points = doubles(one.path("points"));
            TightBox box = TightBox.of(Hull.of(points).orElseThrow());
            assertThat(box.shape().volume()).isLessThanOrEqualTo(one.path("box").doubleValue() * 1.005);
            Matrix4d into = box.frame().matrix().invert();
            for (int i = 0; i < points.length; i += 3) {
                Vector3d p = into.transformPosition(new Vector3d(points[i], points[i + 1], points[i + 2]));
                for (int a = 0; a < 3; a++) {
                    assertThat(Math.abs(p.get(a)))
                            .isLessThanOrEqualTo(box.sizes().get(a) / 2 * (1 + 1e-9));
                }
            }
        }
    }

    @Test
    public void gapsOfHullsAreThoseOfTheirMinkowskiDifference() throws Exception {
        for (JsonNode one : reference().path("pairs")) {
            double expected = one.path("gap").doubleValue();
            double gap = Convex.gap(solid(doubles(one.path("a"))), solid(doubles(one.path("b"))));
            // Points are float32 in a shape; a depth is the least over directions found, never too small.
            double rounding = 3e-6;
            assertThat(gap).isLessThanOrEqualTo(expected + rounding);
            assertThat(gap).isGreaterThanOrEqualTo(expected > 0 ? expected - rounding : 1.02 * expected - rounding);
        }
    }

    private static Convex solid(double[] points) {
        return Convex.of(
                new Collider("", 0, Frame.NONE, Hull.of(points).orElseThrow().shape()));
    }

    /** Worked by hand: a sphere and a capsule beside and in each other, a box turned by 45 degrees over another's edge. */
    @Test
    public void gapsOfRoundShapesAreWorkedValues() {
        Collider ball = new Collider("", 0, Frame.at(new Vector3d(3, 1, 0)), new Shape.Sphere(0.5));
        Collider capsule = new Collider("", 0, Frame.NONE, new Shape.Capsule(1, 1, 4));
        assertThat(Convex.gap(Convex.of(ball), Convex.of(capsule))).isCloseTo(1.5, within(1e-9));
        Collider near = new Collider("", 0, Frame.at(new Vector3d(1.2, 0, 0)), new Shape.Sphere(0.5));
        assertThat(Convex.gap(Convex.of(near), Convex.of(capsule))).isCloseTo(-0.3, within(1e-9));
        Collider cone = new Collider("", 0, Frame.NONE, new Shape.Capsule(1, 0.5, 4));
        Collider above = new Collider("", 0, Frame.at(new Vector3d(0, 4, 0)), new Shape.Sphere(0.25));
        assertThat(Convex.gap(Convex.of(above), Convex.of(cone))).isCloseTo(4 - 0.25 - 2.5, within(1e-9));
        Collider box = new Collider("", 0, Frame.NONE, new Shape.Box(2, 2, 2));
        Collider turned = new Collider(
                "",
                0,
                Frame.at(new Vector3d(1 + Math.sqrt(2) - 0.25, 0, 0), new Quaterniond().rotationY(Math.PI / 4)),
                new Shape.Box(2, 2, 2));
        assertThat(Convex.gap(Convex.of(box), Convex.of(turned))).isCloseTo(-0.25, within(1e-3));
    }

    /** Volumes against the formulas of solids, the tapered capsule against a sum of ten thousand slices. */
    @Test
    public void volumesAreTheFormulas() {
        assertThat(new Shape.Capsule(0.5, 0.5, 2).volume())
                .isCloseTo(Math.PI * 0.25 * 2 + 4 * Math.PI / 3 * 0.125, within(1e-12));
        assertThat(new Shape.Cylinder(0.5, 0.5, 2).volume()).isCloseTo(Math.PI * 0.5, within(1e-12));
        assertThat(new Shape.Capsule(1, 0.2, 0.5).volume()).isCloseTo(4 * Math.PI / 3, within(1e-12));
        // A corner of a cube, of which a file gives one triangle: as a hull it is a sixth, as a mesh it encloses
        // nothing.
        float[] corner = {0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1};
        assertThat(new Shape.Solid(corner, new int[] {0, 1, 2}, true).volume()).isCloseTo(1 / 6.0, within(1e-12));
        assertThat(new Shape.Solid(corner, new int[] {0, 1, 2}, false).volume()).isZero();
        Shape.Capsule tapered = new Shape.Capsule(1, 0.4, 2);
        double sum = 0;
        int slices = 10_000;
        double low = -1 - 1;
        double length = 2 + 1 + 0.4;
        for (int i = 0; i < slices; i++) {
            double y = low + length * (i + 0.5) / slices;
            double widest = 0;
            for (int k = 0; k <= 400; k++) {
                double t = k / 400.0;
                double r = 1 - 0.6 * t;
                double off = y - (-1 + 2 * t);
                widest = Math.max(widest, r * r - off * off);
            }
            sum += Math.PI * widest * length / slices;
        }
        assertThat(tapered.volume()).isCloseTo(sum, within(1e-3 * sum));
    }

    @Test
    public void shapesHoldTheShareThatWasAskedFor() {
        Random random = new Random(4);
        double[] points = IntStream.range(0, 900)
                .mapToDouble(i -> random.nextGaussian() * new double[] {0.1, 0.5, 0.2}[i % 3])
                .toArray();
        for (ShapeFit.Kind kind : ShapeFit.Kind.values()) {
            double before = Double.POSITIVE_INFINITY;
            for (double share : new double[] {1, 0.95, 0.8}) {
                ShapeFit fit = ShapeFit.of(points, kind, null, share, 24).orElseThrow();
                assertThat(fit.share()).as(kind + " " + share).isGreaterThanOrEqualTo(share);
                assertThat(fit.shape().volume()).isLessThan(before);
                before = fit.shape().volume();
            }
        }
        assertThat(ShapeFit.of(points, ShapeFit.Kind.HULL, null, 1, 24)
                        .orElseThrow()
                        .shape())
                .isInstanceOfSatisfying(
                        Shape.Solid.class,
                        s -> assertThat(s.points().length / 3).isLessThanOrEqualTo(24));
    }

    /** Points on the skin of a known shape give that shape back. */
    @Test
    public void theBestShapeIsTheOneTheyLieOn() {
        List<Vector3d> capsule = new ArrayList<>();
        List<Vector3d> box = new ArrayList<>();
        Random random = new Random(5);
        for (int i = 0; i < 4000; i++) {
            Vector3d d = new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian()).normalize();
            capsule.add(d.mul(0.3).add(0, d.y > 0 ? 1 : -1, 0));
            Vector3d b = new Vector3d(random.nextDouble() - 0.5, random.nextDouble() - 0.5, random.nextDouble() - 0.5);
            b.setComponent(i % 3, i % 2 - 0.5);
            box.add(b.mul(0.4, 1.5, 0.7));
        }
        Quaterniond turn = new Quaterniond(0.3, -0.2, 0.5, 0.8).normalize();
        ShapeFit one = ShapeFit.of(turned(capsule, turn), ShapeFit.Kind.BEST, null, 1, 24)
                .orElseThrow();
        assertThat(one.shape()).isInstanceOfSatisfying(Shape.Capsule.class, c -> {
            assertThat(c.bottom()).isCloseTo(0.3, within(2e-3));
            assertThat(c.height()).isCloseTo(2, within(2e-2));
        });
        assertThat(Math.abs(one.frame().axis(1).dot(turn.transform(new Vector3d(0, 1, 0)))))
                .isGreaterThan(0.9999);
        ShapeFit other =
                ShapeFit.of(turned(box, turn), ShapeFit.Kind.BEST, null, 1, 24).orElseThrow();
        assertThat(other.shape()).isInstanceOf(Shape.Box.class);
        assertThat(other.shape().volume()).isCloseTo(0.4 * 1.5 * 0.7, within(4e-3));
    }

    private static double[] turned(List<Vector3d> points, Quaterniond turn) {
        return points.stream()
                .map(p -> turn.transform(p, new Vector3d()))
                .flatMapToDouble(p -> java.util.stream.DoubleStream.of(p.x, p.y, p.z))
                .toArray();
    }

    @Test
    public void whatLiesInOnePlaneHasNoShape() {
        double[] flat = IntStream.range(0, 60)
                .mapToDouble(i -> i % 3 == 1 ? 0 : Math.sin(i))
                .toArray();
        assertThat(ShapeFit.of(flat, ShapeFit.Kind.BEST, null, 1, 24)).isEmpty();
    }
}
