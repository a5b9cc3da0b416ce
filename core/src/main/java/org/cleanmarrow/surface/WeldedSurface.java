package org.cleanmarrow.surface;

import java.util.Arrays;
import org.cleanmarrow.linear.SparseSymmetric;
import org.jspecify.annotations.Nullable;

/**
 * A surface whose vertices on one place are one: UV seams and hard edges do not cut it. Places are numbered from zero in
 * the order of their first vertices.
 */
public final class WeldedSurface {
    /** Cotangents of slivers are kept within this, so that the matrix stays sound (common practice). */
    private static final double MOST_COTANGENT = 1e4;

    private final int[] weldedOf;
    private final int[] vertexOf;
    private final int[] triangles;
    private final float[] positions;
    private @Nullable Neighbours neighbours;
    private int @Nullable [] islands;
    private int islandCount;

    /**
     * @param topology  of the mesh
     * @param positions 3 a vertex, in whatever space; vertices of one place are taken to be where the first is
     */
    public WeldedSurface(MeshTopology topology, float[] positions) {
        int count = topology.vertexCount();
        weldedOf = new int[count];
        int[] number = new int[count];
        Arrays.fill(number, -1);
        int places = 0;
        int[] first = new int[count];
        for (int v = 0; v < count; v++) {
            int stands = topology.weldedOf(v);
            if (number[stands] < 0) {
                number[stands] = places;
                first[places++] = v;
            }
            weldedOf[v] = number[stands];
        }
        vertexOf = Arrays.copyOf(first, places);
        this.positions = byWelded(positions);
        int[] corners = topology.corners();
        int[] kept = new int[corners.length];
        int end = 0;
        for (int t = 0; t + 2 < corners.length; t += 3) {
            int a = weldedOf[corners[t]];
            int b = weldedOf[corners[t + 1]];
            int c = weldedOf[corners[t + 2]];
            if (a != b && b != c && c != a) {
                kept[end++] = a;
                kept[end++] = b;
                kept[end++] = c;
            }
        }
        triangles = Arrays.copyOf(kept, end);
    }

    /** How many places there are. */
    public int size() {
        return vertexOf.length;
    }

    /** Place of a vertex. */
    public int weldedOf(int vertex) {
        return weldedOf[vertex];
    }

    /** First vertex on a place. */
    public int vertexOf(int place) {
        return vertexOf[place];
    }

    /** Three numbers a vertex brought to places: those of each place's first vertex. */
    public float[] byWelded(float[] vertices) {
        float[] out = new float[size() * 3];
        for (int p = 0; p < size(); p++) {
            System.arraycopy(vertices, vertexOf[p] * 3, out, p * 3, 3);
        }
        return out;
    }

    /** Three numbers a place given to all its vertices. */
    public float[] byVertex(float[] places) {
        float[] out = new float[weldedOf.length * 3];
        for (int v = 0; v < weldedOf.length; v++) {
            System.arraycopy(places, weldedOf[v] * 3, out, v * 3, 3);
        }
        return out;
    }

    /** 3 a triangle; those that have two corners on one place are left out. */
    public int[] triangles() {
        return triangles;
    }

    /** 3 a place. */
    public float[] positions() {
        return positions;
    }

    /** Where each place's neighbours begin in {@link #neighbours}; one more than there are places. */
    public synchronized int[] starts() {
        return linked().starts();
    }

    /** Places that share an edge, each once. */
    public synchronized int[] neighbours() {
        return linked().of();
    }

    private Neighbours linked() {
        Neighbours all = neighbours;
        if (all == null) {
            all = Neighbours.of(triangles, p -> p, size());
            neighbours = all;
        }
        return all;
    }

    /** Number of the island that a welded vertex belongs to. */
    public synchronized int islandOf(int place) {
        int[] known = islands;
        if (known == null) {
            Neighbours linked = linked();
            int[] of = new int[size()];
            Arrays.fill(of, -1);
            int[] queue = new int[size()];
            int many = 0;
            for (int p = 0; p < of.length; p++) {
                if (of[p] >= 0) {
                    continue;
                }
                int end = 0;
                queue[end++] = p;
                of[p] = many;
                for (int at = 0; at < end; at++) {
                    for (int e = linked.starts()[queue[at]]; e < linked.starts()[queue[at] + 1]; e++) {
                        if (of[linked.of()[e]] < 0) {
                            of[linked.of()[e]] = many;
                            queue[end++] = linked.of()[e];
                        }
                    }
                }
                many++;
            }
            islandCount = many;
            islands = of;
            known = of;
        }
        return known[place];
    }

    public int islandCount() {
        if (size() > 0) {
            islandOf(0);
        }
        return islandCount;
    }

    /** A third of the area of the triangles around each place; a little where there is none, so that it can be divided by. */
    public double[] areas() {
        double[] out = new double[size()];
        double all = 0;
        for (int t = 0; t < triangles.length; t += 3) {
            double area = area(t);
            all += area;
            for (int i = 0; i < 3; i++) {
                out[triangles[t + i]] += area / 3;
            }
        }
        double least = Math.max(1e-30, 1e-6 * all / Math.max(1, size()));
        for (int p = 0; p < out.length; p++) {
            out[p] = Math.max(out[p], least);
        }
        return out;
    }

    private double area(int t) {
        double[] n = normal(positions, t);
        double area = Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]) / 2;
        return Double.isFinite(area) ? area : 0;
    }

    /** Twice the area along the normal of a triangle. */
    private double[] normal(float[] positions, int t) {
        int a = triangles[t] * 3;
        int b = triangles[t + 1] * 3;
        int c = triangles[t + 2] * 3;
        double ux = positions[b] - positions[a];
        double uy = positions[b + 1] - positions[a + 1];
        double uz = positions[b + 2] - positions[a + 2];
        double vx = positions[c] - positions[a];
        double vy = positions[c + 1] - positions[a + 1];
        double vz = positions[c + 2] - positions[a + 2];
        return new double[] {uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx};
    }

    /** Unit normals by the area of the triangles around; zero where there is none. */
    public float[] normals() {
        return normals(positions);
    }

    /** The same with the places elsewhere, as in a pose; 3 a place. */
    public float[] normals(float[] positions) {
        double[] sums = new double[positions.length];
        for (int t = 0; t < triangles.length; t += 3) {
            double[] n = normal(positions, t);
            for (int i = 0; i < 3; i++) {
                for (int k = 0; k < 3; k++) {
                    sums[triangles[t + i] * 3 + k] += n[k];
                }
            }
        }
        float[] out = new float[sums.length];
        for (int p = 0; p < size(); p++) {
            double length = Math.sqrt(
                    sums[p * 3] * sums[p * 3] + sums[p * 3 + 1] * sums[p * 3 + 1] + sums[p * 3 + 2] * sums[p * 3 + 2]);
            for (int k = 0; k < 3 && length > 0 && Double.isFinite(length); k++) {
                out[p * 3 + k] = (float) (sums[p * 3 + k] / length);
            }
        }
        return out;
    }

    /**
     * The Laplacian by cotangents (Pinkall and Polthier 1993), positive: row sums are zero, the diagonal is not below. Not
     * divided by areas. Cotangents below zero, of obtuse corners, count as they are within an edge and not below zero in
     * its sum.
     */
    public SparseSymmetric.Rows laplacian() {
        long[] edges = new long[triangles.length];
        double[] weights = new double[triangles.length];
        for (int t = 0; t < triangles.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                int a = triangles[t + (i + 1) % 3];
                int b = triangles[t + (i + 2) % 3];
                edges[t + i] = (long) Math.min(a, b) << 32 | Math.max(a, b);
                weights[t + i] = cotangent(triangles[t + i], a, b) / 2;
            }
        }
        // By edge, so that the two triangles at it are added before what is below zero is cut off.
        int[] order = byEdge(edges);
        SparseSymmetric out = new SparseSymmetric(size());
        for (int i = 0; i < order.length; ) {
            long edge = edges[order[i]];
            double sum = 0;
            for (; i < order.length && edges[order[i]] == edge; i++) {
                sum += weights[order[i]];
            }
            double weight = Math.max(sum, 1e-6);
            int a = (int) (edge >> 32);
            int b = (int) edge;
            out.add(a, a, weight);
            out.add(b, b, weight);
            out.add(a, b, -weight);
        }
        for (int p = 0; p < size(); p++) {
            out.add(p, p, 0);
        }
        return out.rows();
    }

    private int[] byEdge(long[] edges) {
        int n = edges.length;
        int[] starts = new int[size() + 1];
        for (long e : edges) {
            starts[(int) (e >> 32) + 1]++;
        }
        for (int p = 0; p < size(); p++) {
            starts[p + 1] += starts[p];
        }
        long[] keys = new long[n];
        int[] next = Arrays.copyOf(starts, size());
        for (int i = 0; i < n; i++) {
            keys[next[(int) (edges[i] >> 32)]++] = (edges[i] & 0xFFFFFFFFL) << 32 | i;
        }
        int[] order = new int[n];
        for (int p = 0; p < size(); p++) {
            Arrays.sort(keys, starts[p], starts[p + 1]);
        }
        for (int i = 0; i < n; i++) {
            order[i] = (int) keys[i];
        }
        return order;
    }

    private double cotangent(int at, int b, int c) {
        double ux = positions[b * 3] - positions[at * 3];
        double uy = positions[b * 3 + 1] - positions[at * 3 + 1];
        double uz = positions[b * 3 + 2] - positions[at * 3 + 2];
        double vx = positions[c * 3] - positions[at * 3];
        double vy = positions[c * 3 + 1] - positions[at * 3 + 1];
        double vz = positions[c * 3 + 2] - positions[at * 3 + 2];
        double dot = ux * vx + uy * vy + uz * vz;
        double x = uy * vz - uz * vy;
        double y = uz * vx - ux * vz;
        double z = ux * vy - uy * vx;
        double cross = Math.sqrt(x * x + y * y + z * z);
        double cot = dot / cross;
        return Double.isNaN(cot) ? 0 : Math.clamp(cot, -MOST_COTANGENT, MOST_COTANGENT);
    }
}
