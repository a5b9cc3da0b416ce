package org.cleanmarrow.collision;

import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * The capsule around points along a direction: as thick as the smallest circle around them as seen along it, and as short as
 * its ends allow. Exact for that direction and radius.
 *
 * @param frame its second axis is the direction
 */
public record TightCapsule(Frame frame, Shape.Capsule shape) {
    private static final double FINEST = 1e-3;
    private static final int COARSE = 96;

    /** @param along not zero; cost grows with the corners of the hull */
    public static TightCapsule of(Hull hull, Vector3d along) {
        Quaterniond turn = new Quaterniond().rotationTo(new Vector3d(0, 1, 0), along.normalize(new Vector3d()));
        Quaterniond back = turn.invert(new Quaterniond());
        int n = hull.points().length / 3;
        Vector3d[] seen = new Vector3d[n];
        double[] flat = new double[3 * n];
        for (int i = 0; i < n; i++) {
            seen[i] = back.transform(hull.point(i));
            flat[3 * i] = seen[i].x;
            flat[3 * i + 1] = seen[i].z;
        }
        SmallestSphere circle = SmallestSphere.of(flat);
        double r = circle.radius();
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (Vector3d p : seen) {
            double off = Math.hypot(p.x - circle.centre().x, p.z - circle.centre().y);
            double cap = Math.sqrt(Math.max(0, r * r - off * off));
            low = Math.min(low, p.y + cap);
            high = Math.max(high, p.y - cap);
        }
        double height = Math.max(0, high - low);
        Vector3d centre = turn.transform(new Vector3d(circle.centre().x, (low + high) / 2, circle.centre().y));
        return new TightCapsule(Frame.at(centre, turn), new Shape.Capsule(r, r, height));
    }

    /** From a direction on, turned as long as that makes it smaller, looked for on a coarser hull. */
    public static TightCapsule near(Hull hull, Vector3d along) {
        return of(hull, axis(hull.extremes(COARSE).orElse(hull), along));
    }

    private static Vector3d axis(Hull hull, Vector3d along) {
        Vector3d axis = along.normalize(new Vector3d());
        TightCapsule best = of(hull, axis);
        for (double step = 0.15; step > FINEST; ) {
            boolean better = false;
            Vector3d side = new Vector3d(1, 0, 0);
            if (Math.abs(axis.x) > 0.9) {
                side.set(0, 1, 0);
            }
            side.cross(axis).normalize();
            Vector3d other = axis.cross(side, new Vector3d());
            for (Vector3d towards : new Vector3d[] {
                new Vector3d(side), side.negate(new Vector3d()), new Vector3d(other), other.negate(new Vector3d())
            }) {
                Vector3d tried = towards.mul(step).add(axis).normalize();
                TightCapsule fit = of(hull, tried);
                if (fit.shape.volume() < best.shape.volume() * (1 - 1e-9)) {
                    best = fit;
                    axis = tried;
                    better = true;
                    break;
                }
            }
            step = better ? step : step / 2;
        }
        return axis;
    }
}
