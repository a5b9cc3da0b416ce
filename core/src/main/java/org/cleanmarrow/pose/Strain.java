package org.cleanmarrow.pose;

import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleNormals;

/**
 * How far a posed surface departs from rest. The map of each triangle from rest to pose has two singular values: its
 * greatest and its least stretch. A triangle that no longer faces the way its corners do is turned over.
 *
 * @param stretch per vertex, by the area at rest around it: the greatest stretch less one where that is the larger change,
 *     else the least less one; 0 as at rest, 0.25 a quarter longer, -0.25 a quarter shorter
 * @param turned  triangles turned over
 * @param longest greatest stretch of any triangle
 * @param least   least stretch of any triangle
 * @param mean    mean of the absolute change, by area
 */
public record Strain(float[] stretch, BitSet turned, double longest, double least, double mean) {
    private static final int CHUNK = 4096;

    /**
     * @param triangles 3 a triangle
     * @param rest      3 a vertex; triangles without area there are left out
     * @param posed     3 a vertex
     */
    public static Strain of(int[] triangles, float[] rest, float[] posed) {
        int vertices = rest.length / 3;
        double[] sums = new double[vertices];
        double[] areas = new double[vertices];
        int count = triangles.length / 3;
        float[] restNormals = new float[triangles.length];
        float[] posedNormals = new float[triangles.length];
        double[] greatest = new double[count];
        double[] smallest = new double[count];
        double[] size = new double[count];
        IntStream.range(0, (count + CHUNK - 1) / CHUNK).parallel().forEach(c -> {
            double[] two = new double[2];
            for (int i = c * CHUNK; i < Math.min(count, (c + 1) * CHUNK); i++) {
                TriangleNormals.put(triangles, i * 3, rest, restNormals, i * 3);
                TriangleNormals.put(triangles, i * 3, posed, posedNormals, i * 3);
                size[i] = singular(triangles, i * 3, rest, posed, two);
                greatest[i] = two[0];
                smallest[i] = two[1];
            }
        });
        float[] around = around(triangles, restNormals, rest.length);
        float[] aroundPosed = around(triangles, posedNormals, rest.length);
        double longest = 1;
        double least = 1;
        double total = 0;
        double all = 0;
        for (int i = 0; i < count; i++) {
            double area = size[i];
            if (!(area > 0) || !Double.isFinite(greatest[i])) {
                continue;
            }
            longest = Math.max(longest, greatest[i]);
            least = Math.min(least, smallest[i]);
            double change = greatest[i] - 1 >= 1 - smallest[i] ? greatest[i] - 1 : smallest[i] - 1;
            total += Math.abs(change) * area;
            all += area;
            for (int k = 0; k < 3; k++) {
                sums[triangles[i * 3 + k]] += change * area;
                areas[triangles[i * 3 + k]] += area;
            }
        }
        float[] stretch = new float[vertices];
        for (int v = 0; v < vertices; v++) {
            stretch[v] = areas[v] > 0 ? (float) (sums[v] / areas[v]) : 0;
        }
        BitSet turned = new BitSet();
        for (int t = 0; t + 2 < triangles.length; t += 3) {
            if (facing(triangles, t, restNormals, around) > 0 && facing(triangles, t, posedNormals, aroundPosed) < 0) {
                turned.set(t / 3);
            }
        }
        return new Strain(stretch, turned, longest, least, all > 0 ? total / all : 0);
    }

    /** Sums of the normals of the triangles at each vertex. */
    private static float[] around(int[] triangles, float[] normals, int length) {
        float[] out = new float[length];
        for (int t = 0; t + 2 < triangles.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                for (int k = 0; k < 3; k++) {
                    out[triangles[t + i] * 3 + k] += normals[t + k];
                }
            }
        }
        return out;
    }

    private static double facing(int[] triangles, int t, float[] normals, float[] around) {
        double dot = 0;
        for (int i = 0; i < 3; i++) {
            for (int k = 0; k < 3; k++) {
                // Against the triangles around its corners, its own part left out.
                dot += normals[t + k] * (around[triangles[t + i] * 3 + k] - normals[t + k]);
            }
        }
        return dot;
    }

    /** The two singular values of the map of a triangle; gives its area at rest. */
    private static double singular(int[] triangles, int t, float[] rest, float[] posed, double[] out) {
        int a = triangles[t] * 3;
        int b = triangles[t + 1] * 3;
        int c = triangles[t + 2] * 3;
        double[] r = edges(rest, a, b, c);
        double[] p = edges(posed, a, b, c);
        double area2 = r[0] * r[2] - r[1] * r[1];
        if (!(area2 > 0)) {
            return 0;
        }
        // The metric of the pose in that of rest: eigenvalues of R^-1 P are the squares of the singular values.
        double trace = (r[2] * p[0] - 2 * r[1] * p[1] + r[0] * p[2]) / area2;
        double det = (p[0] * p[2] - p[1] * p[1]) / area2;
        double root = Math.sqrt(Math.max(0, trace * trace / 4 - det));
        out[0] = Math.sqrt(Math.max(0, trace / 2 + root));
        out[1] = Math.sqrt(Math.max(0, trace / 2 - root));
        return Math.sqrt(area2) / 2;
    }

    /** First fundamental form of a triangle by two of its edges. */
    private static double[] edges(float[] x, int a, int b, int c) {
        double ux = x[b] - x[a];
        double uy = x[b + 1] - x[a + 1];
        double uz = x[b + 2] - x[a + 2];
        double vx = x[c] - x[a];
        double vy = x[c + 1] - x[a + 1];
        double vz = x[c + 2] - x[a + 2];
        return new double[] {ux * ux + uy * uy + uz * uz, ux * vx + uy * vy + uz * vz, vx * vx + vy * vy + vz * vz};
    }

    /** Volume inside triangles that close; of others it has no sense. */
    public static double volume(int[] triangles, float[] p) {
        double six = 0;
        for (int t = 0; t + 2 < triangles.length; t += 3) {
            int a = triangles[t] * 3;
            int b = triangles[t + 1] * 3;
            int c = triangles[t + 2] * 3;
            six += p[a] * ((double) p[b + 1] * p[c + 2] - (double) p[b + 2] * p[c + 1])
                    + p[a + 1] * ((double) p[b + 2] * p[c] - (double) p[b] * p[c + 2])
                    + p[a + 2] * ((double) p[b] * p[c + 1] - (double) p[b + 1] * p[c]);
        }
        return six / 6;
    }
}
