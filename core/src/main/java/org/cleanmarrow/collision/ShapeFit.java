package org.cleanmarrow.collision;

import java.util.Arrays;
import java.util.Comparator;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * A shape fitted around points.
 *
 * @param share of the points that lie within, 0 to 1
 */
public record ShapeFit(Frame frame, Shape shape, double share) {
    /** Which shape. */
    public enum Kind {
        BEST,
        CAPSULE,
        BOX,
        SPHERE,
        HULL
    }

    /** A hull is taken where each simple shape is more than so many times as large. */
    private static final double CLUMSY = 1.8;

    private static final int ROUNDS = 5;

    /** What lies on the surface counts as within, to this share of the size. */
    private static final double ROUNDING = 1e-6;

    /**
     * The smallest shape of a kind that holds a share of the points. Left out are at first those that lie farthest out by how
     * far all spread, then, as long as that makes the shape smaller, those that do so as the shape found before sees it.
     *
     * @param points  3 numbers each, finite
     * @param along   the direction of a capsule; null: whichever makes it smallest
     * @param share   0 to 1, of the points
     * @param corners at most, of a hull
     * @return empty where they lie in one plane
     */
    public static Optional<ShapeFit> of(
            double[] points, Kind kind, @Nullable Vector3d along, double share, int corners) {
        Optional<Hull> first = Hull.of(most(points, spread(points), share));
        return (kind == Kind.BEST
                        ? best(points, first, along, share, corners)
                        : trimmed(points, first, kind, along, share, corners))
                .map(fit -> fit.holding(points));
    }

    private static Optional<ShapeFit> trimmed(
            double[] points, Optional<Hull> first, Kind kind, @Nullable Vector3d along, double share, int corners) {
        Optional<ShapeFit> best = Optional.empty();
        Optional<Hull> hull = first;
        for (int round = 0; round < ROUNDS; round++) {
            Optional<ShapeFit> before = best;
            Optional<ShapeFit> fit = hull.flatMap(h -> around(h, kind, along, corners, before));
            if (fit.isEmpty() || best.isPresent() && volume(fit) >= volume(best) * (1 - 1e-3)) {
                break;
            }
            best = fit;
            if (share == 1 || kind == Kind.HULL) {
                break;
            }
            hull = Hull.of(most(points, fit.get().off(points), share));
        }
        return best;
    }

    private static double volume(Optional<ShapeFit> fit) {
        return fit.orElseThrow().shape.volume();
    }

    /** All hold as many points, so the smallest has the least outside what they are the skin of. */
    private static Optional<ShapeFit> best(
            double[] points, Optional<Hull> first, @Nullable Vector3d along, double share, int corners) {
        Optional<ShapeFit> least = Stream.of(Kind.SPHERE, Kind.CAPSULE, Kind.BOX)
                .flatMap(k -> trimmed(points, first, k, along, share, corners).stream())
                .min(Comparator.comparingDouble(f -> f.shape.volume()));
        Optional<ShapeFit> hull = trimmed(points, first, Kind.HULL, along, share, corners);
        return least.isPresent() && hull.isPresent() && volume(least) > CLUMSY * volume(hull) ? hull : least;
    }

    /** @param before what was found around a few points more, where the search begins */
    private static Optional<ShapeFit> around(
            Hull hull, Kind kind, @Nullable Vector3d along, int corners, Optional<ShapeFit> before) {
        return switch (kind) {
            case CAPSULE -> Optional.of(capsule(hull, along, before));
            case BOX -> Optional.of(box(hull, before));
            case SPHERE -> Optional.of(sphere(hull));
            case HULL -> hull.reduced(corners).map(h -> new ShapeFit(Frame.NONE, h.shape(), 0));
            case BEST -> throw new IllegalArgumentException("several");
        };
    }

    /** How far out each point lies, as this shape sees it: from its middle, its length or its sides. */
    private double[] off(double[] points) {
        Matrix4d into = frame.matrix().invert();
        double[] out = new double[points.length / 3];
        Vector3d p = new Vector3d();
        for (int i = 0; i < out.length; i++) {
            into.transformPosition(p.set(points[3 * i], points[3 * i + 1], points[3 * i + 2]));
            out[i] = switch (shape) {
                case Shape.Capsule c ->
                    p.sub(0, Math.clamp(p.y, -c.height() / 2, c.height() / 2), 0)
                            .length();
                case Shape.Box b ->
                    Math.max(Math.abs(p.x) - b.x() / 2, Math.max(Math.abs(p.y) - b.y() / 2, Math.abs(p.z) - b.z() / 2));
                default -> p.length();
            };
        }
        return out;
    }

    private static ShapeFit capsule(Hull hull, @Nullable Vector3d along, Optional<ShapeFit> before) {
        Frame box = along != null || before.isPresent()
                ? Frame.NONE
                : TightBox.of(hull).frame();
        Stream<TightCapsule> all = along != null
                ? Stream.of(TightCapsule.of(hull, along))
                : before.map(b -> Stream.of(TightCapsule.near(hull, b.frame.axis(1))))
                        .orElseGet(() -> IntStream.range(0, 3).mapToObj(a -> TightCapsule.near(hull, box.axis(a))));
        return all.map(c -> new ShapeFit(c.frame(), c.shape(), 0))
                .min(Comparator.comparingDouble(f -> f.shape.volume()))
                .orElseThrow();
    }

    private static ShapeFit box(Hull hull, Optional<ShapeFit> before) {
        TightBox box = before.map(b -> TightBox.near(hull, b.frame.turn())).orElseGet(() -> TightBox.of(hull));
        return new ShapeFit(box.frame(), box.shape(), 0);
    }

    private static ShapeFit sphere(Hull hull) {
        SmallestSphere ball = SmallestSphere.of(hull.points());
        return new ShapeFit(Frame.at(ball.centre()), new Shape.Sphere(ball.radius()), 0);
    }

    private ShapeFit holding(double[] points) {
        Predicate<Vector3d> within = within(points);
        int held = 0;
        for (int i = 0; i < points.length; i += 3) {
            held += within.test(new Vector3d(points[i], points[i + 1], points[i + 2])) ? 1 : 0;
        }
        return new ShapeFit(frame, shape, held * 3.0 / points.length);
    }

    private Predicate<Vector3d> within(double[] points) {
        double size = 0;
        for (int i = 0; i < points.length; i++) {
            size = Math.max(size, Math.max(Math.abs(points[i] - points[i % 3]), Math.abs(points[i])));
        }
        double rounding = ROUNDING * size;
        if (shape instanceof Shape.Solid solid) {
            double[][] faces = Hull.of(solid).planes();
            return p -> Hull.over(faces, p) <= rounding;
        }
        Convex convex = Convex.of(new Collider("", 0, frame, shape));
        return p -> convex.holds(p, rounding);
    }

    private static double[] most(double[] points, double[] far, double share) {
        int n = far.length;
        int kept = Math.min(n, (int) Math.ceil(share * n - 1e-9));
        if (kept == n) {
            return points;
        }
        double[] sorted = far.clone();
        Arrays.sort(sorted);
        double bound = sorted[kept - 1];
        return IntStream.range(0, points.length)
                .filter(i -> far[i / 3] <= bound)
                .mapToDouble(i -> points[i])
                .toArray();
    }

    /** How far out each lies by how far all spread in its direction (Mahalanobis 1936); 0 where they lie in one plane. */
    private static double[] spread(double[] points) {
        int n = points.length / 3;
        Vector3d mean = new Vector3d();
        for (int i = 0; i < n; i++) {
            mean.add(points[3 * i], points[3 * i + 1], points[3 * i + 2]);
        }
        mean.div(n);
        Matrix3d spread = new Matrix3d().zero();
        Vector3d d = new Vector3d();
        for (int i = 0; i < n; i++) {
            d.set(points[3 * i], points[3 * i + 1], points[3 * i + 2]).sub(mean);
            for (int a = 0; a < 3; a++) {
                for (int b = 0; b < 3; b++) {
                    spread.set(a, b, spread.get(a, b) + d.get(a) * d.get(b) / n);
                }
            }
        }
        Matrix3d inverse = spread.invert(new Matrix3d());
        double[] far = new double[n];
        for (int i = 0; i < n && inverse.isFinite(); i++) {
            d.set(points[3 * i], points[3 * i + 1], points[3 * i + 2]).sub(mean);
            far[i] = d.dot(inverse.transform(d, new Vector3d()));
        }
        return far;
    }
}
