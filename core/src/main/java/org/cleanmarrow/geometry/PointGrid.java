package org.cleanmarrow.geometry;

import java.util.Arrays;

/** Nearest-point search by a uniform grid with about two points a cell. */
public final class PointGrid {
    private final float[] points;
    private final double[] min = new double[3];
    private final int[] size = new int[3];
    private final double cell;
    private final int[] starts;
    private final int[] members;

    /** @param points 3 numbers each, at least one; those that are not finite are never found */
    public PointGrid(float[] points) {
        this.points = points;
        double[] max = new double[3];
        Arrays.fill(min, Double.POSITIVE_INFINITY);
        Arrays.fill(max, Double.NEGATIVE_INFINITY);
        int n = points.length / 3;
        for (int i = 0; i < points.length; i++) {
            if (Float.isFinite(points[i])) {
                min[i % 3] = Math.min(min[i % 3], points[i]);
                max[i % 3] = Math.max(max[i % 3], points[i]);
            }
        }
        double span = 0;
        for (int d = 0; d < 3; d++) {
            span = Math.max(span, max[d] - min[d]);
        }
        cell = Math.max(span / Math.clamp(Math.sqrt(n / 2.0), 1, 96), 1e-30);
        for (int d = 0; d < 3; d++) {
            size[d] = (int) Math.clamp((max[d] - min[d]) / cell + 1, 1, 128);
        }
        starts = new int[size[0] * size[1] * size[2] + 1];
        for (int v = 0; v < n; v++) {
            starts[cellOf(v) + 1]++;
        }
        for (int c = 1; c < starts.length; c++) {
            starts[c] += starts[c - 1];
        }
        members = new int[n];
        int[] next = starts.clone();
        for (int v = 0; v < n; v++) {
            members[next[cellOf(v)]++] = v;
        }
    }

    private int cellOf(int v) {
        return index(step(points[v * 3], 0), step(points[v * 3 + 1], 1), step(points[v * 3 + 2], 2));
    }

    private int step(double x, int d) {
        return (int) Math.clamp(Math.floor((x - min[d]) / cell), 0, size[d] - 1.0);
    }

    private int index(int x, int y, int z) {
        return (z * size[1] + y) * size[0] + x;
    }

    /** Distance to the nearest point; 0 where there is none. */
    public double nearestDistance(float x, float y, float z) {
        int found = nearest(x, y, z);
        return found < 0 ? 0 : distance(found, x, y, z);
    }

    /** Number of the nearest point, the lowest of equals; -1 where there is none. */
    public int nearest(float x, float y, float z) {
        int best = -1;
        double least = Double.POSITIVE_INFINITY;
        int cx = step(x, 0);
        int cy = step(y, 1);
        int cz = step(z, 2);
        double outside = outside(x, y, z);
        int most = Math.max(size[0], Math.max(size[1], size[2]));
        for (int ring = 0; ring <= most; ring++) {
            // Nothing in this ring can be nearer than the rings already searched are thick.
            if (least < (ring - 1) * cell - outside) {
                break;
            }
            int found = searchRing(ring, cx, cy, cz, x, y, z);
            double away = found < 0 ? Double.POSITIVE_INFINITY : distance(found, x, y, z);
            if (away < least || away == least && found >= 0 && found < best) {
                least = away;
                best = found;
            }
        }
        return best;
    }

    private double outside(float x, float y, float z) {
        double o = 0;
        float[] p = {x, y, z};
        for (int d = 0; d < 3; d++) {
            double over = Math.max(min[d] - p[d], p[d] - (min[d] + size[d] * cell));
            o = Math.max(o, over);
        }
        return Math.max(0, o);
    }

    private int searchRing(int ring, int cx, int cy, int cz, float x, float y, float z) {
        int best = -1;
        for (int k = Math.max(0, cz - ring); k <= Math.min(size[2] - 1, cz + ring); k++) {
            for (int j = Math.max(0, cy - ring); j <= Math.min(size[1] - 1, cy + ring); j++) {
                boolean edge = Math.abs(k - cz) == ring || Math.abs(j - cy) == ring;
                int stride = edge || ring == 0 ? 1 : 2 * ring;
                for (int i = cx - ring; i <= cx + ring; i += stride) {
                    if (i >= 0 && i < size[0]) {
                        best = searchCell(index(i, j, k), x, y, z, best);
                    }
                }
            }
        }
        return best;
    }

    private int searchCell(int c, float x, float y, float z, int best) {
        double least = best < 0 ? Double.POSITIVE_INFINITY : distance(best, x, y, z);
        int nearest = best;
        for (int m = starts[c]; m < starts[c + 1]; m++) {
            double d = distance(members[m], x, y, z);
            if (d < least || d == least && members[m] < nearest) {
                least = d;
                nearest = members[m];
            }
        }
        return nearest;
    }

    private double distance(int point, float x, float y, float z) {
        int at = point * 3;
        double dx = points[at] - x;
        double dy = points[at + 1] - y;
        double dz = points[at + 2] - z;
        return Math.sqrt(dx * dx + dy * dy + dz * dz);
    }
}
