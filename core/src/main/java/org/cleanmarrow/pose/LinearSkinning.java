package org.cleanmarrow.pose;

import java.util.Arrays;
import org.cleanmarrow.model.Influences;
import org.jspecify.annotations.Nullable;

/**
 * Linear blend skinning (glTF 2.0, 3.7.3.3): each vertex is moved by the weighted sum of its joints' matrices.
 * Weights are taken as they are; a row that does not sum to one moves the vertex towards or past the origin, and
 * an empty row puts it there, exactly as the equation says.
 *
 * <p>Every sum is a chain of fused multiply-adds from the last entry of a row to the first, whatever the row's length, the
 * range asked for or the machine: the same input gives the same bits. Rows of up to four lie in one fixed layout for
 * speed. Instances are immutable and may be used by many threads.
 */
public final class LinearSkinning {
    private static final int FIXED = 4;

    private final int[] fixedJoints;
    private final float[] fixedWeights;
    private final Influences rows;
    /** Vertices whose rows do not fit the fixed layout, rising. */
    private final int[] longRows;

    public LinearSkinning(Influences influences) {
        rows = influences;
        int vertexCount = influences.vertexCount();
        int many = 0;
        int[] over = new int[16];
        fixedJoints = new int[vertexCount * FIXED];
        fixedWeights = new float[vertexCount * FIXED];
        for (int v = 0; v < vertexCount; v++) {
            int start = influences.offsets()[v];
            int length = influences.rowLength(v);
            if (length > FIXED) {
                over = many == over.length ? Arrays.copyOf(over, many * 2) : over;
                over[many++] = v;
                continue;
            }
            for (int i = 0; i < FIXED && length > 0; i++) {
                // What is beyond the row's end repeats its first joint at no weight, so that no other joint's numbers
                // count.
                fixedJoints[v * FIXED + i] = influences.joints()[start + (i < length ? i : 0)] * 12;
                fixedWeights[v * FIXED + i] = i < length ? influences.weights()[start + i] : 0;
            }
        }
        longRows = Arrays.copyOf(over, many);
    }

    /**
     * Moves the vertices {@code from .. to - 1}; results lie where the vertices lie.
     *
     * @param positions  3 a vertex, bound pose
     * @param normals    3 a vertex, or null
     * @param matrices   12 a joint: three rows of four, row by row
     * @param outNormals 3 a vertex, not unit length; may be null
     */
    public void skin(
            float[] positions,
            float @Nullable [] normals,
            float[] matrices,
            int from,
            int to,
            float[] outPositions,
            float @Nullable [] outNormals) {
        skin(positions, normals, matrices, from, to, outPositions, outNormals, from);
    }

    /** The same; the result of the first vertex lies at number {@code at} of the output, the others follow it. */
    void skin(
            float[] p,
            float @Nullable [] normals,
            float[] m,
            int from,
            int to,
            float[] outP,
            float @Nullable [] outN,
            int at) {
        float[] n = outN == null ? null : normals;
        int next = Arrays.binarySearch(longRows, from);
        next = next < 0 ? -next - 1 : next;
        int done = from;
        for (; next < longRows.length && longRows[next] < to; next++) {
            int v = longRows[next];
            fixed(p, n, m, done, v, outP, outN, at - from);
            whole(p, n, m, v, outP, outN, at - from);
            done = v + 1;
        }
        fixed(p, n, m, done, to, outP, outN, at - from);
    }

    private void fixed(
            float[] p,
            float @Nullable [] n,
            float[] m,
            int from,
            int to,
            float[] outP,
            float @Nullable [] outN,
            int shift) {
        // Not null where normals are: one test a vertex less.
        float[] normals = outN == null ? outP : outN;
        int[] fj = fixedJoints;
        float[] fw = fixedWeights;
        for (int v = from; v < to; v++) {
            int r = v * FIXED;
            int a = fj[r];
            int b = fj[r + 1];
            int c = fj[r + 2];
            int d = fj[r + 3];
            float wa = fw[r];
            float wb = fw[r + 1];
            float wc = fw[r + 2];
            float wd = fw[r + 3];
            float m0 = Math.fma(wa, m[a], Math.fma(wb, m[b], Math.fma(wc, m[c], wd * m[d])));
            float m1 = Math.fma(wa, m[a + 1], Math.fma(wb, m[b + 1], Math.fma(wc, m[c + 1], wd * m[d + 1])));
            float m2 = Math.fma(wa, m[a + 2], Math.fma(wb, m[b + 2], Math.fma(wc, m[c + 2], wd * m[d + 2])));
            float m3 = Math.fma(wa, m[a + 3], Math.fma(wb, m[b + 3], Math.fma(wc, m[c + 3], wd * m[d + 3])));
            float m4 = Math.fma(wa, m[a + 4], Math.fma(wb, m[b + 4], Math.fma(wc, m[c + 4], wd * m[d + 4])));
            float m5 = Math.fma(wa, m[a + 5], Math.fma(wb, m[b + 5], Math.fma(wc, m[c + 5], wd * m[d + 5])));
            float m6 = Math.fma(wa, m[a + 6], Math.fma(wb, m[b + 6], Math.fma(wc, m[c + 6], wd * m[d + 6])));
            float m7 = Math.fma(wa, m[a + 7], Math.fma(wb, m[b + 7], Math.fma(wc, m[c + 7], wd * m[d + 7])));
            float m8 = Math.fma(wa, m[a + 8], Math.fma(wb, m[b + 8], Math.fma(wc, m[c + 8], wd * m[d + 8])));
            float m9 = Math.fma(wa, m[a + 9], Math.fma(wb, m[b + 9], Math.fma(wc, m[c + 9], wd * m[d + 9])));
            float m10 = Math.fma(wa, m[a + 10], Math.fma(wb, m[b + 10], Math.fma(wc, m[c + 10], wd * m[d + 10])));
            float m11 = Math.fma(wa, m[a + 11], Math.fma(wb, m[b + 11], Math.fma(wc, m[c + 11], wd * m[d + 11])));
            float x = p[v * 3];
            float y = p[v * 3 + 1];
            float z = p[v * 3 + 2];
            int to3 = (v + shift) * 3;
            outP[to3] = Math.fma(m0, x, Math.fma(m1, y, Math.fma(m2, z, m3)));
            outP[to3 + 1] = Math.fma(m4, x, Math.fma(m5, y, Math.fma(m6, z, m7)));
            outP[to3 + 2] = Math.fma(m8, x, Math.fma(m9, y, Math.fma(m10, z, m11)));
            if (n != null) {
                x = n[v * 3];
                y = n[v * 3 + 1];
                z = n[v * 3 + 2];
                normals[to3] = Math.fma(m0, x, Math.fma(m1, y, m2 * z));
                normals[to3 + 1] = Math.fma(m4, x, Math.fma(m5, y, m6 * z));
                normals[to3 + 2] = Math.fma(m8, x, Math.fma(m9, y, m10 * z));
            }
        }
    }

    private void whole(
            float[] p, float @Nullable [] n, float[] m, int v, float[] outP, float @Nullable [] outN, int shift) {
        float x = p[v * 3];
        float y = p[v * 3 + 1];
        float z = p[v * 3 + 2];
        for (int row = 0; row < 3; row++) {
            float m0 = 0;
            float m1 = 0;
            float m2 = 0;
            float m3 = 0;
            for (int i = rows.offsets()[v + 1] - 1; i >= rows.offsets()[v]; i--) {
                float w = rows.weights()[i];
                int j = rows.joints()[i] * 12 + row * 4;
                m0 = Math.fma(w, m[j], m0);
                m1 = Math.fma(w, m[j + 1], m1);
                m2 = Math.fma(w, m[j + 2], m2);
                m3 = Math.fma(w, m[j + 3], m3);
            }
            outP[(v + shift) * 3 + row] = Math.fma(m0, x, Math.fma(m1, y, Math.fma(m2, z, m3)));
            if (n != null && outN != null) {
                outN[(v + shift) * 3 + row] = Math.fma(m0, n[v * 3], Math.fma(m1, n[v * 3 + 1], m2 * n[v * 3 + 2]));
            }
        }
    }
}
