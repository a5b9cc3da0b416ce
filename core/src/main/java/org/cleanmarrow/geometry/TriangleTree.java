package org.cleanmarrow.geometry;

import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * A tree of boxes over triangles for picking. Built once on one set of positions; when the pose moves it is
 * refitted in one pass instead of being built anew. Not safe for use by several threads while refitting.
 */
public final class TriangleTree {
    private static final int LEAF = 6;
    private static final int CHUNK = 4096;

    private final int[] corners;
    private final int[] order;
    /** Corners in the order of the tree's leaves, so that fitting boxes reads them one after the other. */
    private final int[] leafCorners;

    /** Per tree node: first triangle and count for a leaf; first child and 0 for an inner one (children adjoin). */
    private final int[] start;

    private final int[] count;
    private final float[] boxes;
    private int nodes;
    private float[] positions;

    /** Where a ray met the surface. */
    public record Hit(int triangle, float distance, float u, float v) {}

    /**
     * @param corners   three vertex numbers a triangle
     * @param positions 3 a vertex
     */
    public TriangleTree(int[] corners, float[] positions) {
        this.corners = corners;
        int triangles = corners.length / 3;
        order = new int[triangles];
        float[] centres = new float[triangles * 3];
        for (int t = 0; t < triangles; t++) {
            order[t] = t;
            for (int d = 0; d < 3; d++) {
                centres[t * 3 + d] = positions[corners[t * 3] * 3 + d]
                        + positions[corners[t * 3 + 1] * 3 + d]
                        + positions[corners[t * 3 + 2] * 3 + d];
            }
        }
        int most = Math.max(1, 4 * (triangles / LEAF + 2));
        start = new int[most];
        count = new int[most];
        nodes = 1;
        split(0, 0, triangles, centres);
        boxes = new float[nodes * 6];
        leafCorners = new int[triangles * 3];
        for (int i = 0; i < triangles; i++) {
            System.arraycopy(corners, order[i] * 3, leafCorners, i * 3, 3);
        }
        refit(positions);
    }

    private void split(int node, int from, int to, float[] centres) {
        if (to - from <= LEAF) {
            start[node] = from;
            count[node] = to - from;
            return;
        }
        int axis = widest(from, to, centres);
        int middle = (from + to) >>> 1;
        select(from, to - 1, middle, axis, centres);
        int left = nodes;
        nodes += 2;
        start[node] = left;
        count[node] = 0;
        split(left, from, middle, centres);
        split(left + 1, middle, to, centres);
    }

    private int widest(int from, int to, float[] centres) {
        int best = 0;
        float width = -1;
        for (int d = 0; d < 3; d++) {
            float min = Float.POSITIVE_INFINITY;
            float max = Float.NEGATIVE_INFINITY;
            for (int i = from; i < to; i++) {
                float c = centres[order[i] * 3 + d];
                min = Math.min(min, c);
                max = Math.max(max, c);
            }
            if (max - min > width) {
                width = max - min;
                best = d;
            }
        }
        return best;
    }

    /** Puts the middle element in its place along an axis (Hoare's selection). */
    private void select(int low, int high, int middle, int axis, float[] centres) {
        while (low < high) {
            float pivot = centres[order[(low + high) >>> 1] * 3 + axis];
            int i = low;
            int j = high;
            while (i <= j) {
                while (centres[order[i] * 3 + axis] < pivot) {
                    i++;
                }
                while (centres[order[j] * 3 + axis] > pivot) {
                    j--;
                }
                if (i <= j) {
                    int swap = order[i];
                    order[i++] = order[j];
                    order[j--] = swap;
                }
            }
            if (middle <= j) {
                high = j;
            } else if (middle >= i) {
                low = i;
            } else {
                return;
            }
        }
    }

    /** Fits all boxes to moved positions; the array is kept and must not change until the next refit. */
    public void refit(float[] moved) {
        positions = moved;
        int[] keys = keys(moved);
        int chunks = (nodes + CHUNK - 1) / CHUNK;
        IntStream.range(0, chunks).parallel().forEach(c -> {
            for (int node = c * CHUNK; node < Math.min(nodes, (c + 1) * CHUNK); node++) {
                if (count[node] > 0 || order.length == 0) {
                    fitLeaf(node, node * 6, keys);
                }
            }
        });
        // Children always have higher numbers than their parent.
        for (int node = nodes - 1; node >= 0; node--) {
            if (count[node] == 0 && order.length > 0) {
                int at = node * 6;
                int a = start[node] * 6;
                int b = a + 6;
                for (int d = 0; d < 3; d++) {
                    boxes[at + d] = Math.min(boxes[a + d], boxes[b + d]);
                    boxes[at + 3 + d] = Math.max(boxes[a + 3 + d], boxes[b + 3 + d]);
                }
            }
        }
    }

    /**
     * Numbers that compare as the floats do, because whole numbers are compared without branches. What is not a
     * number makes its box so too, and such a box is always looked into.
     */
    private static int[] keys(float[] values) {
        int[] keys = new int[values.length];
        for (int i = 0; i < keys.length; i++) {
            keys[i] = key(Float.floatToRawIntBits(values[i]));
        }
        return keys;
    }

    /** Its own inverse. */
    private static int key(int bits) {
        return bits ^ bits >> 31 & 0x7FFFFFFF;
    }

    private void fitLeaf(int node, int at, int[] keys) {
        int x0 = Integer.MAX_VALUE;
        int y0 = x0;
        int z0 = x0;
        int x1 = Integer.MIN_VALUE;
        int y1 = x1;
        int z1 = x1;
        int end = (start[node] + count[node]) * 3;
        for (int i = start[node] * 3; i < end; i++) {
            int v = leafCorners[i] * 3;
            int x = keys[v];
            int y = keys[v + 1];
            int z = keys[v + 2];
            x0 = Math.min(x0, x);
            y0 = Math.min(y0, y);
            z0 = Math.min(z0, z);
            x1 = Math.max(x1, x);
            y1 = Math.max(y1, y);
            z1 = Math.max(z1, z);
        }
        boxes[at] = Float.intBitsToFloat(key(x0));
        boxes[at + 1] = Float.intBitsToFloat(key(y0));
        boxes[at + 2] = Float.intBitsToFloat(key(z0));
        boxes[at + 3] = Float.intBitsToFloat(key(x1));
        boxes[at + 4] = Float.intBitsToFloat(key(y1));
        boxes[at + 5] = Float.intBitsToFloat(key(z1));
    }

    /**
     * The nearest triangle that a ray meets, from either side.
     *
     * @param o    origin, 3 numbers
     * @param d    direction, 3 numbers, any length above zero; distances are in its lengths
     * @param take triangles to consider
     * @return null when nothing is met
     */
    public @Nullable Hit nearest(float[] o, float[] d, IntPredicate take) {
        return walk(o, d, Float.POSITIVE_INFINITY, take, false);
    }

    /** The same where no farther than a limit is asked for: what lies beyond is not looked into. */
    public @Nullable Hit nearest(float[] o, float[] d, float limit, IntPredicate take) {
        return walk(o, d, limit, take, false);
    }

    /** True where a ray meets any triangle nearer than a distance; cheaper than finding the nearest. */
    public boolean meetsBefore(float[] o, float[] d, float limit) {
        return walk(o, d, limit, t -> true, true) != null;
    }

    /**
     * The point of the surface that is nearest to a point.
     *
     * @param take triangles to consider
     * @return null where there is no triangle, or none that has finite corners; {@code u} and {@code v} are the shares of
     *     the triangle's second and third corner
     */
    public @Nullable Hit nearestPoint(float x, float y, float z, IntPredicate take) {
        return nearestPoint(x, y, z, take, -1, 0);
    }

    /**
     * The same, where a triangle that is likely to be near is known, or not more is asked than whether one is near enough.
     *
     * @param first  triangle looked at first, -1 for none; saves time alone
     * @param enough what is not farther than this ends the search, the nearest or not; 0 for the nearest
     */
    public @Nullable Hit nearestPoint(float x, float y, float z, IntPredicate take, int first, double enough) {
        return nearestPoint(x, y, z, take, first, enough, Double.POSITIVE_INFINITY);
    }

    /** The same where nothing farther than a limit is asked for: what lies beyond is not looked into. */
    public @Nullable Hit nearestWithin(float x, float y, float z, int first, double within) {
        return nearestPoint(x, y, z, t -> true, first, 0, within * within);
    }

    private @Nullable Hit nearestPoint(
            float x, float y, float z, IntPredicate take, int first, double enough, double square) {
        int best = -1;
        double u = 0;
        double v = 0;
        double limit = square;
        int[] stack = new int[128];
        int depth = 0;
        stack[depth++] = 0;
        double[] found = new double[3];
        if (first >= 0 && take.test(first)) {
            double distance = toTriangle(first, x, y, z, found);
            if (distance < limit) {
                limit = distance;
                best = first;
                u = found[1];
                v = found[2];
            }
        }
        while (depth > 0 && order.length > 0 && limit > enough * enough) {
            int node = stack[--depth];
            if (boxDistance(node * 6, x, y, z) >= limit) {
                continue;
            }
            if (count[node] == 0) {
                int near = start[node];
                boolean swap = boxDistance(near * 6, x, y, z) < boxDistance(near * 6 + 6, x, y, z);
                // The nearer child is looked into first.
                stack[depth++] = swap ? near + 1 : near;
                stack[depth++] = swap ? near : near + 1;
                continue;
            }
            for (int i = start[node]; i < start[node] + count[node]; i++) {
                double distance = toTriangle(order[i], x, y, z, found);
                if (distance < limit && take.test(order[i])) {
                    limit = distance;
                    best = order[i];
                    u = found[1];
                    v = found[2];
                }
            }
        }
        return best < 0 ? null : new Hit(best, (float) Math.sqrt(limit), (float) u, (float) v);
    }

    private double boxDistance(int at, float x, float y, float z) {
        double dx = Math.max(0, Math.max(boxes[at] - x, x - boxes[at + 3]));
        double dy = Math.max(0, Math.max(boxes[at + 1] - y, y - boxes[at + 4]));
        double dz = Math.max(0, Math.max(boxes[at + 2] - z, z - boxes[at + 5]));
        double distance = dx * dx + dy * dy + dz * dz;
        return Double.isNaN(distance) ? 0 : distance;
    }

    /** Square of the distance to a triangle, and the shares of its corners (Ericson, Real-Time Collision Detection, 5.1.5). */
    private double toTriangle(int t, double x, double y, double z, double[] shares) {
        int a = corners[t * 3] * 3;
        int b = corners[t * 3 + 1] * 3;
        int c = corners[t * 3 + 2] * 3;
        float[] p = positions;
        double abx = p[b] - (double) p[a];
        double aby = p[b + 1] - (double) p[a + 1];
        double abz = p[b + 2] - (double) p[a + 2];
        double acx = p[c] - (double) p[a];
        double acy = p[c + 1] - (double) p[a + 1];
        double acz = p[c + 2] - (double) p[a + 2];
        double apx = x - p[a];
        double apy = y - p[a + 1];
        double apz = z - p[a + 2];
        double d1 = abx * apx + aby * apy + abz * apz;
        double d2 = acx * apx + acy * apy + acz * apz;
        double bb = abx * abx + aby * aby + abz * abz;
        double bc = abx * acx + aby * acy + abz * acz;
        double cc = acx * acx + acy * acy + acz * acz;
        double d3 = d1 - bb;
        double d4 = d2 - bc;
        double d5 = d1 - bc;
        double d6 = d2 - cc;
        double va = d3 * d6 - d5 * d4;
        double vb = d5 * d2 - d1 * d6;
        double vc = d1 * d4 - d3 * d2;
        double v;
        double w;
        if (d1 <= 0 && d2 <= 0) {
            v = 0;
            w = 0;
        } else if (d3 >= 0 && d4 <= d3) {
            v = 1;
            w = 0;
        } else if (vc <= 0 && d1 >= 0 && d3 <= 0) {
            v = d1 / (d1 - d3);
            w = 0;
        } else if (d6 >= 0 && d5 <= d6) {
            v = 0;
            w = 1;
        } else if (vb <= 0 && d2 >= 0 && d6 <= 0) {
            v = 0;
            w = d2 / (d2 - d6);
        } else if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
            w = (d4 - d3) / (d4 - d3 + d5 - d6);
            v = 1 - w;
        } else {
            double sum = va + vb + vc;
            v = vb / sum;
            w = vc / sum;
        }
        // A triangle without area may leave no number; its first corner is near enough then.
        v = Double.isNaN(v) ? 0 : v;
        w = Double.isNaN(w) ? 0 : w;
        shares[0] = 1 - v - w;
        shares[1] = v;
        shares[2] = w;
        double dx = apx - v * abx - w * acx;
        double dy = apy - v * aby - w * acy;
        double dz = apz - v * abz - w * acz;
        return dx * dx + dy * dy + dz * dz;
    }

    /** The nearest hit before a distance, or with {@code any} the first that is come across. */
    private @Nullable Hit walk(float[] o, float[] d, float before, IntPredicate take, boolean any) {
        Hit best = null;
        float limit = before;
        int[] stack = new int[128];
        int depth = 0;
        stack[depth++] = 0;
        while (depth > 0) {
            int node = stack[--depth];
            if (!meets(node * 6, o, d, limit)) {
                continue;
            }
            if (count[node] == 0) {
                if (order.length > 0) {
                    stack[depth++] = start[node];
                    stack[depth++] = start[node] + 1;
                }
                continue;
            }
            for (int i = start[node]; i < start[node] + count[node]; i++) {
                Hit hit = meet(order[i], o, d);
                if (hit != null && hit.distance < limit && take.test(hit.triangle)) {
                    best = hit;
                    limit = hit.distance;
                    if (any) {
                        return best;
                    }
                }
            }
        }
        return best;
    }

    private boolean meets(int at, float[] o, float[] d, float limit) {
        float near = 0;
        float far = limit;
        for (int k = 0; k < 3; k++) {
            float inverse = 1 / d[k];
            float a = (boxes[at + k] - o[k]) * inverse;
            float b = (boxes[at + 3 + k] - o[k]) * inverse;
            if (Float.isNaN(a) || Float.isNaN(b)) {
                // The ray lies in a side of the box: only outside of the slab is it a miss. A box with a corner that is
                // no number is always looked into.
                boolean known = !Float.isNaN(boxes[at + k]) && !Float.isNaN(boxes[at + 3 + k]);
                if (known && (o[k] < boxes[at + k] || o[k] > boxes[at + 3 + k])) {
                    return false;
                }
                continue;
            }
            near = Math.max(near, Math.min(a, b));
            far = Math.min(far, Math.max(a, b));
        }
        return near <= far * 1.000001f;
    }

    /** Möller and Trumbore 1997, both sides. */
    private @Nullable Hit meet(int t, float[] o, float[] d) {
        int a = corners[t * 3] * 3;
        int b = corners[t * 3 + 1] * 3;
        int c = corners[t * 3 + 2] * 3;
        float[] p = positions;
        float e1x = p[b] - p[a];
        float e1y = p[b + 1] - p[a + 1];
        float e1z = p[b + 2] - p[a + 2];
        float e2x = p[c] - p[a];
        float e2y = p[c + 1] - p[a + 1];
        float e2z = p[c + 2] - p[a + 2];
        float hx = d[1] * e2z - d[2] * e2y;
        float hy = d[2] * e2x - d[0] * e2z;
        float hz = d[0] * e2y - d[1] * e2x;
        float det = e1x * hx + e1y * hy + e1z * hz;
        if (det == 0) {
            return null;
        }
        float f = 1 / det;
        float sx = o[0] - p[a];
        float sy = o[1] - p[a + 1];
        float sz = o[2] - p[a + 2];
        float u = f * (sx * hx + sy * hy + sz * hz);
        if (!(u >= 0 && u <= 1)) {
            return null;
        }
        float qx = sy * e1z - sz * e1y;
        float qy = sz * e1x - sx * e1z;
        float qz = sx * e1y - sy * e1x;
        float v = f * (d[0] * qx + d[1] * qy + d[2] * qz);
        if (!(v >= 0 && u + v <= 1)) {
            return null;
        }
        float distance = f * (e2x * qx + e2y * qy + e2z * qz);
        return distance > 0 ? new Hit(t, distance, u, v) : null;
    }
}
