package org.cleanmarrow.geometry;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;

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

    /**
     * Fills closed outlines in a plane: those that turn left hold what is filled, those that turn right are holes in it. Each edge
     * of an outline is an edge of one triangle, and each other edge of a triangle is that of another too, whatever crosses what.
     * Cost: the square of the corners.
     *
     * @param outlines 2 numbers a corner, 3 corners or more
     * @param out      takes corners as they are numbered through all outlines in order
     */
    public static void fill(List<double[]> outlines, Triangle out) {
        double[] all = outlines.stream().flatMapToDouble(Arrays::stream).toArray();
        List<int[]> filled = new ArrayList<>();
        List<int[]> holes = new ArrayList<>();
        int first = 0;
        for (double[] outline : outlines) {
            int[] corners = IntStream.range(first, first + outline.length / 2).toArray();
            (area(all, corners) < 0 ? holes : filled).add(corners);
            first += outline.length / 2;
        }
        filled.sort(Comparator.comparingDouble(o -> area(all, o)));
        int[] of = new int[holes.size()];
        for (int h = 0; h < of.length; h++) {
            int[] hole = holes.get(h);
            of[h] = IntStream.range(0, filled.size())
                    .filter(f -> isInside(all, filled.get(f), hole[0]))
                    .findFirst()
                    .orElse(-1);
            if (of[h] < 0) {
                // Rounding put it outside all: filled the other way round it takes away as much.
                cutEars(seen(all, hole, -1), hole.length, (a, b, c) -> out.take(hole[a], hole[b], hole[c]));
            }
        }
        for (int f = 0; f < filled.size(); f++) {
            int at = f;
            int[] outline = filled.get(f);
            List<int[]> inside = new ArrayList<>(IntStream.range(0, of.length)
                    .filter(h -> of[h] == at)
                    .mapToObj(holes::get)
                    .toList());
            inside.sort(Comparator.comparingDouble((int[] h) -> all[2 * h[rightmost(all, h)]])
                    .reversed());
            for (int[] hole : inside) {
                outline = bridged(all, outline, hole);
            }
            int[] whole = outline;
            cutEars(seen(all, whole, 1), whole.length, (a, b, c) -> out.take(whole[a], whole[b], whole[c]));
        }
    }

    private static double[] seen(double[] all, int[] corners, int upright) {
        double[] flat = new double[2 * corners.length];
        for (int i = 0; i < corners.length; i++) {
            flat[2 * i] = all[2 * corners[i]];
            flat[2 * i + 1] = upright * all[2 * corners[i] + 1];
        }
        return flat;
    }

    /** Twice the area, below zero where the outline turns right. */
    private static double area(double[] all, int[] corners) {
        double sum = 0;
        for (int i = 1; i + 1 < corners.length; i++) {
            sum += turn(all, corners[0], corners[i], corners[i + 1]);
        }
        return sum;
    }

    /** By the crossings of a ray to the right. */
    private static boolean isInside(double[] all, int[] outline, int point) {
        double px = all[2 * point];
        double py = all[2 * point + 1];
        boolean inside = false;
        for (int i = 0; i < outline.length; i++) {
            int a = outline[i];
            int b = outline[(i + 1) % outline.length];
            if (all[2 * a + 1] > py != all[2 * b + 1] > py) {
                inside ^= px < crossing(all, a, b, py);
            }
        }
        return inside;
    }

    private static double crossing(double[] all, int a, int b, double y) {
        double share = (y - all[2 * a + 1]) / (all[2 * b + 1] - all[2 * a + 1]);
        return all[2 * a] + share * (all[2 * b] - all[2 * a]);
    }

    private static int rightmost(double[] all, int[] corners) {
        int best = 0;
        for (int i = 1; i < corners.length; i++) {
            best = all[2 * corners[i]] > all[2 * corners[best]] ? i : best;
        }
        return best;
    }

    /** The outline run to a hole, round it, and back, by a corner that the hole's rightmost one sees (Eberly 1998). */
    private static int[] bridged(double[] all, int[] outline, int[] hole) {
        int from = rightmost(all, hole);
        int to = visible(all, outline, hole[from]);
        int[] out = new int[outline.length + hole.length + 2];
        int n = 0;
        for (int i = 0; i <= to; i++) {
            out[n++] = outline[i];
        }
        for (int i = 0; i <= hole.length; i++) {
            out[n++] = hole[(from + i) % hole.length];
        }
        for (int i = to; i < outline.length; i++) {
            out[n++] = outline[i];
        }
        return out;
    }

    /** The corner of an outline that a point inside it sees: on the ray to the right, or beside the edge that the ray meets first. */
    private static int visible(double[] all, int[] outline, int point) {
        double px = all[2 * point];
        double py = all[2 * point + 1];
        int hit = -1;
        double nearest = Double.POSITIVE_INFINITY;
        boolean onCorner = false;
        for (int i = 0; i < outline.length; i++) {
            int next = (i + 1) % outline.length;
            int a = outline[i];
            int b = outline[next];
            if (all[2 * a + 1] <= py && all[2 * b + 1] > py) {
                boolean corner = all[2 * a + 1] == py;
                double x = corner ? all[2 * a] : crossing(all, a, b, py);
                // Where holes were joined several corners lie on one place, and one of them has the point before it.
                if (x >= px && (x < nearest || x == nearest && corner && opens(all, outline, i, point))) {
                    nearest = x;
                    onCorner = corner;
                    hit = corner || all[2 * a] > all[2 * b] ? i : next;
                }
            }
        }
        if (hit < 0) {
            return 0;
        }
        // What stands between hides it: then the corner that is least off the ray is seen.
        double hx = all[2 * outline[hit]];
        double hy = all[2 * outline[hit] + 1];
        double[] between = {px, py, nearest, py, hx, hy};
        int best = hit;
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i < outline.length; i++) {
            double x = all[2 * outline[i]];
            double y = all[2 * outline[i] + 1];
            boolean stands = onCorner ? y == py && x < nearest : holds(between, x, y) && (x != hx || y != hy);
            double off = Math.abs(y - py) / Math.max(1e-300, x - px);
            boolean nearer = off < least || off == least && x < all[2 * outline[best]];
            if (x > px && nearer && stands && opens(all, outline, i, point)) {
                least = off;
                best = i;
            }
        }
        return best;
    }

    /** Whether the inside of an outline at a corner goes towards a point. */
    private static boolean opens(double[] all, int[] outline, int i, int point) {
        int n = outline.length;
        int at = outline[i];
        int before = outline[(i + n - 1) % n];
        int next = outline[(i + 1) % n];
        boolean left = turn(all, before, at, point) > 0;
        boolean right = turn(all, at, next, point) > 0;
        return turn(all, before, at, next) < 0 ? left || right : left && right;
    }

    private static boolean holds(double[] triangle, double x, double y) {
        double[] f = {triangle[0], triangle[1], triangle[2], triangle[3], triangle[4], triangle[5], x, y};
        double a = turn(f, 0, 1, 3);
        double b = turn(f, 1, 2, 3);
        double c = turn(f, 2, 0, 3);
        return a >= 0 && b >= 0 && c >= 0 || a <= 0 && b <= 0 && c <= 0;
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
