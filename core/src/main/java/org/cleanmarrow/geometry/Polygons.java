package org.cleanmarrow.geometry;

/** Cuts flat polygons into triangles. */
public final class Polygons {
    /** Corners looked at for one polygon; one that needs more crosses itself all over, and any corner is as good. */
    private static final long MOST_LOOKS = 100_000_000;

    private Polygons() {}

    /** Takes one triangle: positions in the polygon's list of corners. */
    public interface Triangle {
        void take(int a, int b, int c);
    }

    /**
     * Cuts a polygon into {@code count - 2} triangles with its own winding, without new corners. Convex ones become a
     * fan from their first corner; others lose one ear after the other (Meisters 1975). What crosses itself or has no
     * area is cut all the same.
     *
     * @param points  3 numbers a point
     * @param corners numbers of points
     * @param count   corners of the polygon, at least 3
     */
    public static void triangulate(float[] points, int[] corners, int count, Triangle out) {
        if (count == 3) {
            out.take(0, 1, 2);
            return;
        }
        double[] flat = flattened(points, corners, count);
        if (isConvex(flat, count)) {
            for (int i = 1; i + 1 < count; i++) {
                out.take(0, i, i + 1);
            }
            return;
        }
        cutEars(flat, count, out);
    }

    /** The corners in the plane that the polygon lies in best (Newell's normal), seen so that it turns left. */
    private static double[] flattened(float[] points, int[] corners, int count) {
        double nx = 0;
        double ny = 0;
        double nz = 0;
        for (int i = 0; i < count; i++) {
            int p = corners[i] * 3;
            int q = corners[(i + 1) % count] * 3;
            nx += ((double) points[p + 1] - points[q + 1]) * ((double) points[p + 2] + points[q + 2]);
            ny += ((double) points[p + 2] - points[q + 2]) * ((double) points[p] + points[q]);
            nz += ((double) points[p] - points[q]) * ((double) points[p + 1] + points[q + 1]);
        }
        double ax = Math.abs(nx);
        double ay = Math.abs(ny);
        double az = Math.abs(nz);
        int drop = ax >= ay && ax >= az ? 0 : ay >= az ? 1 : 2;
        double sign = Math.signum(drop == 0 ? nx : drop == 1 ? ny : nz);
        double[] flat = new double[count * 2];
        for (int i = 0; i < count; i++) {
            flat[i * 2] = points[corners[i] * 3 + (drop + 1) % 3];
            flat[i * 2 + 1] = points[corners[i] * 3 + (drop + 2) % 3] * (sign < 0 ? -1 : 1);
        }
        return flat;
    }

    private static double turn(double[] f, int a, int b, int c) {
        return (f[b * 2] - f[a * 2]) * (f[c * 2 + 1] - f[a * 2 + 1])
                - (f[b * 2 + 1] - f[a * 2 + 1]) * (f[c * 2] - f[a * 2]);
    }

    private static boolean isConvex(double[] flat, int count) {
        for (int i = 0; i < count; i++) {
            if (turn(flat, i, (i + 1) % count, (i + 2) % count) < 0) {
                return false;
            }
        }
        return true;
    }

    private static void cutEars(double[] flat, int count, Triangle out) {
        int[] next = new int[count];
        int[] before = new int[count];
        for (int i = 0; i < count; i++) {
            next[i] = (i + 1) % count;
            before[i] = (i + count - 1) % count;
        }
        int at = 0;
        int left = count;
        int tried = 0;
        long[] looks = {MOST_LOOKS};
        while (left > 3) {
            // Once round without an ear: a flat corner goes first. Twice: it crosses itself, and any corner is as good.
            boolean flatCorner = tried > left && turn(flat, before[at], at, next[at]) == 0;
            if (looks[0] < 0 || isEar(flat, before[at], at, next[at], next, looks) || flatCorner || tried > 2 * left) {
                out.take(before[at], at, next[at]);
                next[before[at]] = next[at];
                before[next[at]] = before[at];
                left--;
                tried = 0;
            }
            at = next[at];
            tried++;
        }
        out.take(before[at], at, next[at]);
    }

    private static boolean isEar(double[] f, int a, int b, int c, int[] next, long[] looks) {
        if (turn(f, a, b, c) <= 0) {
            return false;
        }
        for (int p = next[c]; p != a; p = next[p]) {
            looks[0]--;
            // Where an outline runs to a hole and back, corners lie on each other and are in nobody's way.
            boolean same = same(f, p, a) || same(f, p, b) || same(f, p, c);
            if (!same && turn(f, a, b, p) >= 0 && turn(f, b, c, p) >= 0 && turn(f, c, a, p) >= 0) {
                return false;
            }
        }
        return true;
    }

    private static boolean same(double[] f, int a, int b) {
        return f[a * 2] == f[b * 2] && f[a * 2 + 1] == f[b * 2 + 1];
    }
}
