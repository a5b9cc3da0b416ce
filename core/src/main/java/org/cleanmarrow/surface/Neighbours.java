package org.cleanmarrow.surface;

import java.util.Arrays;
import java.util.function.IntUnaryOperator;

/**
 * Which points share an edge, each once, compressed by row.
 *
 * @param starts where the neighbours of each point begin in {@code of}; one more than there are points
 * @param of     the neighbours, rising within a row
 */
record Neighbours(int[] starts, int[] of) {
    /**
     * n log n in the corners.
     *
     * @param corners 3 a triangle
     * @param point   what a corner counts as; edges from a point to itself are none
     * @param count   points
     */
    static Neighbours of(int[] corners, IntUnaryOperator point, int count) {
        long[] edges = new long[corners.length * 2];
        int many = 0;
        for (int t = 0; t + 2 < corners.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                int a = point.applyAsInt(corners[t + i]);
                int b = point.applyAsInt(corners[t + (i + 1) % 3]);
                if (a != b) {
                    edges[many++] = (long) a << 32 | b;
                    edges[many++] = (long) b << 32 | a;
                }
            }
        }
        Arrays.parallelSort(edges, 0, many);
        int[] starts = new int[count + 1];
        int[] of = new int[many];
        int end = 0;
        for (int e = 0; e < many; e++) {
            if (e == 0 || edges[e] != edges[e - 1]) {
                starts[(int) (edges[e] >> 32) + 1]++;
                of[end++] = (int) edges[e];
            }
        }
        for (int p = 0; p < count; p++) {
            starts[p + 1] += starts[p];
        }
        return new Neighbours(starts, Arrays.copyOf(of, end));
    }
}
