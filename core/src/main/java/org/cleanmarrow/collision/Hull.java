package org.cleanmarrow.collision;

import com.github.quickhull3d.InternalErrorException;
import com.github.quickhull3d.QuickHull3D;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.joml.Vector3d;
import org.joml.Vector3dc;

/**
 * The convex hull of points (Barber, Dobkin and Huhdanpaa 1996), as triangles.
 *
 * @param points    3 numbers each, those on the hull alone
 * @param triangles 3 corners each, outside where they run against the clock
 */
public record Hull(double[] points, int[] triangles) {
    private static final int CANDIDATES = 400;
    /** How far out a point must lie to count, by size, where the library's own choice fails; the first is that. */
    private static final double[] TOLERANCES = {0, 1e-10, 1e-8, 1e-6};

    private static final List<Vector3dc> DIRECTIONS =
            IntStream.range(0, 160).<Vector3dc>mapToObj(i -> spread(i, 160)).toList();

    /**
     * The hull of all; cost: points times the logarithm of their number.
     *
     * @param points 3 numbers each, finite
     * @return empty where they lie in one plane
     */
    public static Optional<Hull> of(double[] points) {
        if (points.length < 12) {
            return Optional.empty();
        }
        QuickHull3D hull = new QuickHull3D();
        double size = 0;
        for (double x : points) {
            size = Math.max(size, Math.abs(x));
        }
        boolean built = false;
        for (int attempt = 0; !built && attempt < TOLERANCES.length; attempt++) {
            try {
                hull.setExplicitDistanceTolerance(
                        attempt == 0 ? QuickHull3D.AUTOMATIC_TOLERANCE : TOLERANCES[attempt] * size);
                hull.build(points, points.length / 3);
                hull.triangulate();
                built = true;
            } catch (IllegalArgumentException flat) {
                return Optional.empty();
            } catch (InternalErrorException crossed) {
                // Points that nearly coincide can cross its faces; what is wider drops them.
                hull = new QuickHull3D();
            }
        }
        if (!built) {
            return Optional.empty();
        }
        double[] corners = new double[3 * hull.getNumVertices()];
        hull.getVertices(corners);
        int[][] faces = hull.getFaces();
        int[] triangles = new int[3 * faces.length];
        for (int f = 0; f < faces.length; f++) {
            System.arraycopy(faces[f], 0, triangles, 3 * f, 3);
        }
        return Optional.of(new Hull(corners, triangles));
    }

    /**
     * A hull of at most so many corners, each the one that lies farthest outside those taken before; it is then made so much
     * larger about its middle that all points lie within.
     *
     * @param most 4 or more
     */
    public Optional<Hull> reduced(int most) {
        if (points.length / 3 <= most) {
            return Optional.of(this);
        }
        Hull from = extremes(CANDIDATES).orElse(this);
        double[] chosen = new double[0];
        double[] far = new double[from.points.length / 3];
        Arrays.fill(far, Double.POSITIVE_INFINITY);
        Optional<Hull> hull = Optional.empty();
        int next = 0;
        for (int n = 0; n < most; n++) {
            chosen = Arrays.copyOf(chosen, 3 * (n + 1));
            System.arraycopy(from.points, 3 * next, chosen, 3 * n, 3);
            // Four that lie far apart, as wide a start as there is; then by height over the faces there are.
            hull = n < 3 ? Optional.empty() : of(chosen);
            double[][] faces = hull.map(Hull::planes).orElse(new double[0][]);
            Vector3d taken = from.point(next);
            double best = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < far.length; i++) {
                Vector3d p = from.point(i);
                far[i] = Math.min(far[i], p.distance(taken));
                double out = hull.isPresent() ? over(faces, p) : far[i];
                if (out > best) {
                    best = out;
                    next = i;
                }
            }
            if (hull.isPresent() && best <= 0) {
                break;
            }
        }
        return hull.map(h -> h.holding(this));
    }

    /** The hull of those corners that lie farthest in one of so many directions, spread evenly (a spiral over the sphere). */
    Optional<Hull> extremes(int directions) {
        if (points.length / 3 <= directions) {
            return Optional.of(this);
        }
        BitSet taken = new BitSet();
        for (int d = 0; d < directions; d++) {
            taken.set(farthest(spread(d, directions)));
        }
        return of(taken.stream()
                .flatMap(i -> IntStream.range(3 * i, 3 * i + 3))
                .mapToDouble(i -> points[i])
                .toArray());
    }

    private int farthest(Vector3d d) {
        int at = 0;
        double best = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < points.length; i += 3) {
            double far = d.x * points[i] + d.y * points[i + 1] + d.z * points[i + 2];
            if (far > best) {
                best = far;
                at = i / 3;
            }
        }
        return at;
    }

    /** 160 directions, spread evenly over the sphere. */
    static List<Vector3dc> directions() {
        return DIRECTIONS;
    }

    /** One of so many directions, spread evenly over the sphere along a golden spiral. */
    static Vector3d spread(int number, int of) {
        double y = 1 - (2 * number + 1.0) / of;
        double angle = Math.PI * (3 - Math.sqrt(5)) * number;
        double r = Math.sqrt(1 - y * y);
        return new Vector3d(r * Math.cos(angle), y, r * Math.sin(angle));
    }

    private Hull holding(Hull all) {
        Vector3d middle = middle();
        double scale = 1;
        for (double[] face : planes()) {
            double height = face[3] - face[0] * middle.x - face[1] * middle.y - face[2] * middle.z;
            for (int i = 0; i < all.points.length; i += 3) {
                double over = face[0] * (all.points[i] - middle.x)
                        + face[1] * (all.points[i + 1] - middle.y)
                        + face[2] * (all.points[i + 2] - middle.z);
                scale = Math.max(scale, over / height);
            }
        }
        double[] out = new double[points.length];
        for (int i = 0; i < out.length; i++) {
            double m = middle.get(i % 3);
            out[i] = m + (points[i] - m) * scale;
        }
        return new Hull(out, triangles);
    }

    /** Of every face the outward normal and its height over the origin. */
    public double[][] planes() {
        double[][] out = new double[triangles.length / 3][];
        for (int t = 0; t < out.length; t++) {
            Vector3d n = normal(3 * t);
            out[t] = new double[] {n.x, n.y, n.z, n.dot(point(triangles[3 * t]))};
        }
        return out;
    }

    /** How far a point lies over the face that it lies highest over; below zero inside. */
    static double over(double[][] faces, Vector3d p) {
        double most = Double.NEGATIVE_INFINITY;
        for (double[] face : faces) {
            most = Math.max(most, face[0] * p.x + face[1] * p.y + face[2] * p.z - face[3]);
        }
        return most;
    }

    /** The mean of the corners, which lies inside. */
    Vector3d middle() {
        Vector3d sum = new Vector3d();
        for (int i = 0; i < points.length / 3; i++) {
            sum.add(point(i));
        }
        return sum.div(points.length / 3.0);
    }

    Vector3d normal(int t) {
        Vector3d a = point(triangles[t]);
        return point(triangles[t + 1])
                .sub(a)
                .cross(point(triangles[t + 2]).sub(a))
                .normalize();
    }

    Vector3d point(int number) {
        return new Vector3d(points[3 * number], points[3 * number + 1], points[3 * number + 2]);
    }

    /** By the divergence theorem, in cubic units. */
    public double volume() {
        double six = 0;
        Vector3d first = triangles.length == 0 ? new Vector3d() : point(triangles[0]);
        for (int t = 0; t < triangles.length; t += 3) {
            Vector3d a = point(triangles[t]).sub(first);
            Vector3d b = point(triangles[t + 1]).sub(first);
            six += a.dot(b.cross(point(triangles[t + 2]).sub(first)));
        }
        return six / 6;
    }

    /** The hull of a surface's points; empty where they lie in one plane. */
    public static Optional<Hull> around(Shape.Solid solid) {
        return of(of(solid).points);
    }

    /** A solid that is a hull already. */
    static Hull of(Shape.Solid solid) {
        double[] points = new double[solid.points().length];
        Arrays.setAll(points, i -> solid.points()[i]);
        return new Hull(points, solid.triangles());
    }

    public Shape.Solid shape() {
        float[] out = new float[points.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = (float) points[i];
        }
        return new Shape.Solid(out, triangles, true);
    }
}
