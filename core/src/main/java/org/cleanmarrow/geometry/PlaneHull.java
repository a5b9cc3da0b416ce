package org.cleanmarrow.geometry;

import java.util.Arrays;
import java.util.Comparator;

/** The convex hull of points in a plane (Andrew 1979). */
public final class PlaneHull {
    private PlaneHull() {}

    /**
     * The corners in order; cost: the points times the logarithm of their number.
     *
     * @param points 2 numbers each, finite
     * @return fewer than three where all lie in one line
     */
    public static double[][] of(double[][] points) {
        double[][] p = points.clone();
        Arrays.sort(p, Comparator.<double[]>comparingDouble(q -> q[0]).thenComparingDouble(q -> q[1]));
        double[][] out = new double[2 * p.length][];
        int k = 0;
        for (int pass = 0; pass < 2; pass++) {
            int floor = k + 1;
            for (int i = 0; i < p.length; i++) {
                double[] q = p[pass == 0 ? i : p.length - 1 - i];
                while (k > floor - (pass == 0 ? 1 : 0) && k >= 2 && turn(out[k - 2], out[k - 1], q) <= 0) {
                    k--;
                }
                out[k++] = q;
            }
            k--;
        }
        return Arrays.copyOf(out, Math.max(1, k));
    }

    private static double turn(double[] a, double[] b, double[] c) {
        return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    }
}
