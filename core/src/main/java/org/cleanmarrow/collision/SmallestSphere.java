package org.cleanmarrow.collision;

import java.util.Random;
import org.joml.Vector3d;

/**
 * The smallest sphere around points, exact up to rounding: Welzl 1991 with the order kept from call to call by moving the
 * points that decide to the front. In a plane the smallest circle, where all third coordinates are the same.
 *
 * @param radius in the unit of the points
 */
public record SmallestSphere(Vector3d centre, double radius) {
    private static final double ROUNDING = 1e-12;

    /** @param points 3 numbers each, one at least, finite; expected cost grows with their number alone */
    public static SmallestSphere of(double[] points) {
        int n = points.length / 3;
        Vector3d[] p = new Vector3d[n];
        for (int i = 0; i < n; i++) {
            p[i] = new Vector3d(points[3 * i], points[3 * i + 1], points[3 * i + 2]);
        }
        // A fixed seed: the same points give the same bits.
        Random random = new Random(17);
        for (int i = n - 1; i > 0; i--) {
            swap(p, i, random.nextInt(i + 1));
        }
        return around(p, n, new Vector3d[4], 0);
    }

    private static void swap(Vector3d[] p, int i, int j) {
        Vector3d kept = p[i];
        p[i] = p[j];
        p[j] = kept;
    }

    private static SmallestSphere around(Vector3d[] p, int count, Vector3d[] on, int held) {
        SmallestSphere ball = through(on, held);
        if (held == 4) {
            return ball;
        }
        for (int i = 0; i < count; i++) {
            if (!ball.holds(p[i])) {
                Vector3d outside = p[i];
                Vector3d[] more = on.clone();
                more[held] = outside;
                ball = around(p, i, more, held + 1);
                System.arraycopy(p, 0, p, 1, i);
                p[0] = outside;
            }
        }
        return ball;
    }

    private boolean holds(Vector3d p) {
        return centre.distance(p) <= radius + ROUNDING * (radius + centre.length());
    }

    /** The smallest with so many points on its surface: its centre lies among them. */
    private static SmallestSphere through(Vector3d[] on, int held) {
        if (held == 0) {
            return new SmallestSphere(new Vector3d(), -1);
        }
        Vector3d a = on[0];
        if (held == 1) {
            return new SmallestSphere(new Vector3d(a), 0);
        }
        Vector3d ab = new Vector3d(on[1]).sub(a);
        Vector3d to;
        if (held == 2) {
            to = ab.mul(0.5);
        } else {
            Vector3d ac = new Vector3d(on[2]).sub(a);
            Vector3d n = ab.cross(ac, new Vector3d());
            if (held == 3) {
                // The circle through three points.
                to = n.cross(ab, new Vector3d())
                        .mul(ac.lengthSquared())
                        .add(ac.cross(n, new Vector3d()).mul(ab.lengthSquared()))
                        .div(2 * n.lengthSquared());
            } else {
                Vector3d ad = new Vector3d(on[3]).sub(a);
                to = ac.cross(ad, new Vector3d())
                        .mul(ab.lengthSquared())
                        .add(ad.cross(ab, new Vector3d()).mul(ac.lengthSquared()))
                        .add(n.mul(ad.lengthSquared(), new Vector3d()))
                        .div(2 * ab.dot(ac.cross(ad, new Vector3d())));
            }
        }
        double radius = to.length();
        // Points in a line, or in a circle, twice: nothing is gained by the last.
        return to.isFinite() ? new SmallestSphere(to.add(a), radius) : through(on, held - 1);
    }
}
