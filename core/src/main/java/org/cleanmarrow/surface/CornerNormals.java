package org.cleanmarrow.surface;

import java.util.Arrays;
import org.cleanmarrow.geometry.DisjointSets;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Normals of a triangle mesh from its triangles alone. Corners that meet on one place across edges that are not hard form a
 * fan and share one normal: the sum of their triangles' normals, weighted by the area of the triangle, by the angle of the corner
 * (Thürmer and Wüthrich 1998), or by both. UV seams do not cut a fan, for vertices on one place are welded.
 *
 * <p>An edge is hard where its two triangles turn from each other by more than an angle, where more or fewer than two meet, where
 * they run the other way round, or where it was hard before, if that is kept. Inside a polygon there is none.
 *
 * <p>Cost: one sort of the edges; each set of normals one pass over the corners.
 */
public final class CornerNormals {
    /** What a triangle's normal counts for at a corner. */
    public enum Weighting {
        AREA,
        ANGLE,
        BOTH
    }

    private final int[] corners;
    private final int[] fan;
    private final int fans;

    private CornerNormals(int[] corners, int[] fan, int fans) {
        this.corners = corners;
        this.fan = fan;
        this.fans = fans;
    }

    /**
     * @param topology  of the mesh
     * @param positions 3 a vertex, finite
     * @param degrees   triangles that turn from each other by more make a hard edge; 180: none does
     * @param polygon   of each triangle the number of the polygon that it was cut from; null: each its own
     * @param before    normals, 3 a vertex, whose hard edges stay hard; null: none are kept
     */
    public static CornerNormals of(
            MeshTopology topology,
            float[] positions,
            double degrees,
            int @Nullable [] polygon,
            float @Nullable [] before) {
        int[] corners = topology.corners();
        int triangles = corners.length / 3;
        double[] flat = new double[3 * triangles];
        boolean[] thin = new boolean[triangles];
        for (int t = 0; t < triangles; t++) {
            Vector3d n = facing(corners, t, positions);
            double length = n.length();
            thin[t] = !(length > 0) || !Double.isFinite(length);
            flat[3 * t] = thin[t] ? 0 : n.x / length;
            flat[3 * t + 1] = thin[t] ? 0 : n.y / length;
            flat[3 * t + 2] = thin[t] ? 0 : n.z / length;
        }
        DisjointSets sets = new DisjointSets(3 * triangles);
        boolean[] joined = new boolean[triangles];
        // A little over, so that an edge of the very angle, as a model at right angles has them, is not decided by
        // rounding.
        double least = Math.cos(Math.toRadians(Math.min(180, degrees + 1e-3)));
        long[][] edges = edges(topology);
        for (int i = 0; i < edges.length; ) {
            int end = i + 1;
            while (end < edges.length && edges[end][0] == edges[i][0]) {
                end++;
            }
            if (end - i == 2) {
                int a = (int) edges[i][1];
                int b = (int) edges[i + 1][1];
                int s = a / 3;
                int t = b / 3;
                int aEnd = 3 * s + (a + 1) % 3;
                int bEnd = 3 * t + (b + 1) % 3;
                boolean opposite = topology.weldedOf(corners[a]) == topology.weldedOf(corners[bEnd]);
                boolean inside = polygon != null && polygon[s] == polygon[t];
                boolean soft =
                        opposite && (inside || soft(flat, s, t, least) && !wasHard(before, corners, a, aEnd, b, bEnd));
                if (thin[s] || thin[t]) {
                    // What has no direction goes along with one neighbour, and links none.
                    int sliver = thin[s] ? s : t;
                    soft = opposite && !joined[sliver];
                    joined[sliver] = true;
                }
                if (soft) {
                    sets.join(a, bEnd);
                    sets.join(aEnd, b);
                }
            }
            i = end;
        }
        return new CornerNormals(corners, sets.numbered(), sets.count());
    }

    /** Edges as two places and the corner that each begins at, sorted. */
    private static long[][] edges(MeshTopology topology) {
        int[] corners = topology.corners();
        int end = 0;
        long[][] out = new long[corners.length / 3 * 3][];
        for (int c = 0; c < out.length; c++) {
            long a = topology.weldedOf(corners[c]);
            long b = topology.weldedOf(corners[c / 3 * 3 + (c + 1) % 3]);
            if (a != b) {
                out[end++] = new long[] {Math.min(a, b) << 32 | Math.max(a, b), c};
            }
        }
        out = Arrays.copyOf(out, end);
        Arrays.sort(out, (x, y) -> x[0] == y[0] ? Long.compare(x[1], y[1]) : Long.compare(x[0], y[0]));
        return out;
    }

    private static boolean soft(double[] flat, int s, int t, double least) {
        double dot = 0;
        for (int k = 0; k < 3; k++) {
            dot += flat[3 * s + k] * flat[3 * t + k];
        }
        return dot >= least;
    }

    /** At both its ends; one alone is the tip of a cone. */
    private static boolean wasHard(float @Nullable [] n, int[] corners, int a, int aEnd, int b, int bEnd) {
        return n != null && differ(n, corners[a], corners[bEnd]) && differ(n, corners[aEnd], corners[b]);
    }

    private static boolean differ(float[] n, int v, int w) {
        double off = 0;
        for (int k = 0; k < 3; k++) {
            off = Math.max(off, Math.abs(n[3 * v + k] - n[3 * w + k]));
        }
        return off > 1e-4;
    }

    /** How many fans there are. */
    public int fans() {
        return fans;
    }

    /** Number of the fan of a corner; corners are three a triangle, through all primitives. */
    public int fanOf(int corner) {
        return fan[corner];
    }

    /** Unit normals, 3 a fan, for positions of all vertices; zero where all triangles of a fan are without area. */
    public float[] of(float[] positions, Weighting weighting) {
        double[] sums = new double[3 * fans];
        for (int t = 0; 3 * t < corners.length; t++) {
            Vector3d n = facing(corners, t, positions);
            double length = n.length();
            if (!(length > 0) || !Double.isFinite(length)) {
                continue;
            }
            for (int i = 0; i < 3; i++) {
                double angle = weighting == Weighting.AREA ? 1 : angle(corners, t, i, positions);
                double by = weighting == Weighting.ANGLE ? angle / length : angle;
                int at = 3 * fan[3 * t + i];
                sums[at] += n.x * by;
                sums[at + 1] += n.y * by;
                sums[at + 2] += n.z * by;
            }
        }
        float[] out = new float[sums.length];
        for (int f = 0; f < fans; f++) {
            double length = Math.sqrt(
                    sums[3 * f] * sums[3 * f] + sums[3 * f + 1] * sums[3 * f + 1] + sums[3 * f + 2] * sums[3 * f + 2]);
            for (int k = 0; k < 3 && length > 0; k++) {
                out[3 * f + k] = (float) (sums[3 * f + k] / length);
            }
        }
        return out;
    }

    private static Vector3d facing(int[] corners, int t, float[] p) {
        Vector3d a = at(p, corners[3 * t]);
        return at(p, corners[3 * t + 1]).sub(a).cross(at(p, corners[3 * t + 2]).sub(a));
    }

    private static double angle(int[] corners, int t, int i, float[] p) {
        Vector3d at = at(p, corners[3 * t + i]);
        Vector3d u = at(p, corners[3 * t + (i + 1) % 3]).sub(at);
        Vector3d v = at(p, corners[3 * t + (i + 2) % 3]).sub(at);
        double dot = u.dot(v);
        return Math.atan2(u.cross(v).length(), dot);
    }

    private static Vector3d at(float[] p, int v) {
        return new Vector3d(p[3 * v], p[3 * v + 1], p[3 * v + 2]);
    }
}
