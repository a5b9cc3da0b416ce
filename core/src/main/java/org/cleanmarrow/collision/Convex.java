package org.cleanmarrow.collision;

import java.util.ArrayList;
import java.util.List;
import org.joml.Matrix4d;
import org.joml.Matrix4dc;
import org.joml.Vector3d;
import org.joml.Vector3dc;
import org.jspecify.annotations.Nullable;

/**
 * A convex shape where it stands: a body of corners with a radius around it, or of two balls. A cylinder and a cone are
 * given by rims of 32 corners, up to half a hundredth too thin between two of them; a surface that is not convex by its hull.
 */
final class Convex {
    private static final int ITERATIONS = 64;
    private static final int STARTS = 6;

    private final Vector3d[] corners;
    private final double[] radii;
    private final double even;
    private final Vector3d middle = new Vector3d();
    private final double reach;

    private Convex(Vector3d[] corners, double[] radii) {
        this.corners = corners;
        this.radii = radii;
        boolean same = true;
        for (double r : radii) {
            same &= r == radii[0];
        }
        even = same && radii.length > 0 ? radii[0] : 0;
        for (Vector3d c : corners) {
            middle.add(c);
        }
        middle.div(corners.length);
        double most = 0;
        for (int i = 0; i < corners.length; i++) {
            most = Math.max(most, corners[i].distance(middle) + radii[i]);
        }
        reach = most;
    }

    /** In the axes of its node. */
    static Convex of(Collider collider) {
        return of(collider, new Matrix4d());
    }

    /** @param world of the node; a scale that differs by direction makes round things as thick as the largest */
    static Convex of(Collider collider, Matrix4dc world) {
        Matrix4d at = new Matrix4d(world).mul(collider.at().matrix());
        double scale = Math.max(
                at.getColumn(0, new Vector3d()).length(),
                Math.max(
                        at.getColumn(1, new Vector3d()).length(),
                        at.getColumn(2, new Vector3d()).length()));
        List<Vector3d> corners = new ArrayList<>();
        double[] radii = {};
        switch (collider.shape()) {
            case Shape.Sphere s -> {
                corners.add(new Vector3d());
                radii = new double[] {s.radius() * scale};
            }
            case Shape.Capsule c -> {
                corners.add(new Vector3d(0, -c.height() / 2, 0));
                corners.add(new Vector3d(0, c.height() / 2, 0));
                radii = new double[] {c.bottom() * scale, c.top() * scale};
            }
            case Shape.Cylinder c -> corners.addAll(c.skin());
            case Shape.Box b -> corners.addAll(b.marks());
            case Shape.Solid s -> corners.addAll(s.marks());
            case Shape.Drawn d -> corners.add(new Vector3d());
        }
        corners.forEach(at::transformPosition);
        Vector3d[] all = corners.toArray(Vector3d[]::new);
        return new Convex(all, radii.length == 0 ? new double[all.length] : radii);
    }

    /** A single point. */
    private static Convex point(Vector3d p) {
        return new Convex(new Vector3d[] {p}, new double[1]);
    }

    Vector3d middle() {
        return new Vector3d(middle);
    }

    /** From its middle to the farthest of it. */
    double reach() {
        return reach;
    }

    /** The point of it farthest in a direction, radii aside where all are the same. */
    private Vector3d farthest(Vector3dc direction, Vector3d out) {
        double best = Double.NEGATIVE_INFINITY;
        int at = 0;
        double length = direction.length();
        for (int i = 0; i < corners.length; i++) {
            double far = corners[i].dot(direction) + (radii[i] - even) * length;
            if (far > best) {
                best = far;
                at = i;
            }
        }
        out.set(corners[at]);
        if (radii[at] > even && length > 0) {
            out.fma((radii[at] - even) / length, direction);
        }
        return out;
    }

    private double extent(Vector3dc unit) {
        return farthest(unit, new Vector3d()).dot(unit) + even;
    }

    /** Whether a point lies within, or no farther outside than that. */
    boolean holds(Vector3d p, double tolerance) {
        return distance(this, point(p)) <= even + tolerance;
    }

    /**
     * The distance between two; below zero how deep they lie in each other, which is exact while their cores are apart and
     * else the least over 160 directions, of which the best are turned as long as that lessens it (so never too small).
     *
     * <p>The distance by Gilbert, Johnson and Keerthi 1988.
     */
    static double gap(Convex a, Convex b) {
        double cores = distance(a, b);
        double round = a.even + b.even;
        return cores > 0 ? cores - round : -depth(a, b);
    }

    /** Whether they lie in each other; cheaper than how deep. */
    static boolean meet(Convex a, Convex b) {
        double cores = distance(a, b);
        return cores == 0 || cores < a.even + b.even;
    }

    /** How deep two lie in each other, at most: along the line between their middles, and along the axes of space. */
    static double depthAtMost(Convex a, Convex b) {
        double best = Double.POSITIVE_INFINITY;
        for (int i = 0; i < 7; i++) {
            Vector3d d = i == 6 ? b.middle().sub(a.middle()) : new Vector3d().setComponent(i / 2, i % 2 == 0 ? 1 : -1);
            best = d.lengthSquared() > 0 ? Math.min(best, along(a, b, d.normalize())) : best;
        }
        return best;
    }

    private static double depth(Convex a, Convex b) {
        List<Vector3dc> starts = new ArrayList<>(Hull.directions());
        Vector3d across = b.middle().sub(a.middle());
        if (across.lengthSquared() > 0) {
            starts.add(across.normalize());
        }
        double[] depths = starts.stream().mapToDouble(d -> along(a, b, d)).toArray();
        double best = Double.POSITIVE_INFINITY;
        for (int round = 0; round < STARTS; round++) {
            int least = 0;
            for (int i = 1; i < depths.length; i++) {
                least = depths[i] < depths[least] ? i : least;
            }
            best = Math.min(best, turned(a, b, starts.get(least), depths[least]));
            depths[least] = Double.POSITIVE_INFINITY;
        }
        return Math.max(0, best);
    }

    private static double turned(Convex a, Convex b, Vector3dc start, double depth) {
        Vector3d found = new Vector3d(start);
        double best = depth;
        for (double step = 0.15; step > 1e-4; ) {
            boolean better = false;
            for (int axis = 0; axis < 6; axis++) {
                Vector3d tried = new Vector3d()
                        .setComponent(axis / 2, axis % 2 == 0 ? step : -step)
                        .add(found)
                        .normalize();
                double there = along(a, b, tried);
                if (there < best - 1e-12) {
                    best = there;
                    found.set(tried);
                    better = true;
                }
            }
            step = better ? step : step / 2;
        }
        return best;
    }

    /** How far b would have to go in a direction to leave a. */
    private static double along(Convex a, Convex b, Vector3dc unit) {
        return a.extent(unit) + b.extent(unit.negate(new Vector3d()));
    }

    /** Between the cores, 0 where they meet. */
    private static double distance(Convex a, Convex b) {
        Vector3d[] simplex = new Vector3d[4];
        Vector3d v = a.corners[0].sub(b.corners[0], new Vector3d());
        if (v.lengthSquared() == 0) {
            v.set(1, 0, 0);
        }
        int count = 0;
        Vector3d p = new Vector3d();
        Vector3d q = new Vector3d();
        double size = a.reach + b.reach;
        for (int i = 0; i < ITERATIONS; i++) {
            a.farthest(v.negate(new Vector3d()), p);
            b.farthest(v, q);
            Vector3d w = p.sub(q, new Vector3d());
            double vv = v.lengthSquared();
            if (count > 0 && vv - v.dot(w) <= 1e-12 * vv + 1e-24 * size * size) {
                return Math.sqrt(vv);
            }
            simplex[count++] = w;
            count = nearest(simplex, count, v);
            if (count == 4 || v.lengthSquared() <= 1e-22 * size * size) {
                return 0;
            }
        }
        return v.length();
    }

    /**
     * The point of a simplex nearest to the origin, and the corners that it lies between; four where the origin lies within.
     * By all faces, which for four points at most are few.
     */
    private static int nearest(Vector3d[] s, int count, Vector3d out) {
        double best = Double.POSITIVE_INFINITY;
        int kept = 0;
        Vector3d at = new Vector3d();
        for (int set = 1; set < 1 << count; set++) {
            Vector3d p = within(s, count, set);
            if (p != null && p.lengthSquared() < best - 1e-300) {
                best = p.lengthSquared();
                kept = set;
                at = p;
            }
        }
        out.set(at);
        int n = 0;
        for (int i = 0; i < count; i++) {
            if ((kept & 1 << i) != 0) {
                s[n++] = s[i];
            }
        }
        return n;
    }

    /** The foot of the origin on some corners' span, null where it lies beyond them. */
    private static @Nullable Vector3d within(Vector3d[] s, int count, int set) {
        Vector3d[] c = new Vector3d[Integer.bitCount(set)];
        int n = 0;
        for (int i = 0; i < count; i++) {
            if ((set & 1 << i) != 0) {
                c[n++] = s[i];
            }
        }
        if (n == 1) {
            return new Vector3d(c[0]);
        }
        Vector3d ab = c[1].sub(c[0], new Vector3d());
        if (n == 2) {
            double t = -c[0].dot(ab) / ab.lengthSquared();
            return t > 0 && t < 1 ? new Vector3d(c[0]).fma(t, ab) : null;
        }
        Vector3d ac = c[2].sub(c[0], new Vector3d());
        if (n == 3) {
            Vector3d normal = ab.cross(ac, new Vector3d());
            double area = normal.lengthSquared();
            double v = c[0].negate(new Vector3d()).cross(ac).dot(normal) / area;
            double w = ab.cross(c[0].negate(new Vector3d()), new Vector3d()).dot(normal) / area;
            return v > 0 && w > 0 && v + w < 1 ? new Vector3d(c[0]).fma(v, ab).fma(w, ac) : null;
        }
        Vector3d ad = c[3].sub(c[0], new Vector3d());
        Vector3d to = c[0].negate(new Vector3d());
        double six = ab.dot(ac.cross(ad, new Vector3d()));
        double u = to.dot(ac.cross(ad, new Vector3d())) / six;
        double v = ab.dot(to.cross(ad, new Vector3d())) / six;
        double w = ab.dot(ac.cross(to, new Vector3d())) / six;
        return u >= 0 && v >= 0 && w >= 0 && u + v + w <= 1 ? new Vector3d() : null;
    }
}
