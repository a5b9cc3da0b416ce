package org.cleanmarrow.pose;

import org.cleanmarrow.asset.Influences;

/**
 * Linear blend skinning (glTF 2.0, 3.7.3.3): each vertex is moved by the weighted sum of its joints' matrices.
 * Weights are taken as they are; a row that does not sum to one moves the vertex towards or past the origin, and
 * an empty row puts it there, exactly as the equation says.
 *
 * <p>Rows of up to four are held in one fixed layout, longer ones stay compressed. Instances are immutable and
 * may be used by many threads.
 */
public final class LinearSkinning {
    private static final int FIXED = 4;

    /** Whether the processor multiplies and adds in one go; where it does not, Java's fused form is very slow. */
    private static final boolean FUSES = fuses();

    private final int vertexCount;
    private final int[] fixedJoints;
    private final float[] fixedWeights;
    private final Influences rows;

    public LinearSkinning(Influences influences) {
        vertexCount = influences.vertexCount();
        if (influences.longestRow() > FIXED) {
            rows = influences;
            fixedJoints = null;
            fixedWeights = null;
            return;
        }
        rows = null;
        fixedJoints = new int[vertexCount * FIXED];
        fixedWeights = new float[vertexCount * FIXED];
        for (int v = 0; v < vertexCount; v++) {
            int at = v * FIXED;
            for (int i = influences.offsets()[v]; i < influences.offsets()[v + 1]; i++, at++) {
                fixedJoints[at] = influences.joints()[i] * 12;
                fixedWeights[at] = influences.weights()[i];
            }
        }
    }

    private static boolean fuses() {
        float sum = 0;
        long start = System.nanoTime();
        for (int i = 0; i < 400; i++) {
            sum = Math.fma(i, 0.1f, sum);
        }
        return System.nanoTime() - start < 200_000 && sum > 0;
    }

    /** a x b + c */
    private static float mul(float a, float b, float c) {
        return FUSES ? Math.fma(a, b, c) : a * b + c;
    }

    /**
     * Moves the vertices {@code from .. to - 1}.
     *
     * @param positions  3 a vertex, bound pose
     * @param normals    3 a vertex, or null
     * @param matrices   12 a joint: three rows of four, row by row
     * @param outNormals 3 a vertex, not unit length; may be null
     */
    public void skin(
            float[] positions,
            float[] normals,
            float[] matrices,
            int from,
            int to,
            float[] outPositions,
            float[] outNormals) {
        if (rows != null) {
            skinRows(positions, normals, matrices, from, to, outPositions, outNormals);
        } else if (normals != null && outNormals != null) {
            skinFixed(positions, normals, matrices, from, to, outPositions, outNormals);
        } else {
            skinFixedPositions(positions, matrices, from, to, outPositions);
        }
    }

    private void skinFixed(float[] p, float[] n, float[] m, int from, int to, float[] outP, float[] outN) {
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
            float m0 = mul(wa, m[a], mul(wb, m[b], mul(wc, m[c], wd * m[d])));
            float m1 = mul(wa, m[a + 1], mul(wb, m[b + 1], mul(wc, m[c + 1], wd * m[d + 1])));
            float m2 = mul(wa, m[a + 2], mul(wb, m[b + 2], mul(wc, m[c + 2], wd * m[d + 2])));
            float m3 = mul(wa, m[a + 3], mul(wb, m[b + 3], mul(wc, m[c + 3], wd * m[d + 3])));
            float m4 = mul(wa, m[a + 4], mul(wb, m[b + 4], mul(wc, m[c + 4], wd * m[d + 4])));
            float m5 = mul(wa, m[a + 5], mul(wb, m[b + 5], mul(wc, m[c + 5], wd * m[d + 5])));
            float m6 = mul(wa, m[a + 6], mul(wb, m[b + 6], mul(wc, m[c + 6], wd * m[d + 6])));
            float m7 = mul(wa, m[a + 7], mul(wb, m[b + 7], mul(wc, m[c + 7], wd * m[d + 7])));
            float m8 = mul(wa, m[a + 8], mul(wb, m[b + 8], mul(wc, m[c + 8], wd * m[d + 8])));
            float m9 = mul(wa, m[a + 9], mul(wb, m[b + 9], mul(wc, m[c + 9], wd * m[d + 9])));
            float m10 = mul(wa, m[a + 10], mul(wb, m[b + 10], mul(wc, m[c + 10], wd * m[d + 10])));
            float m11 = mul(wa, m[a + 11], mul(wb, m[b + 11], mul(wc, m[c + 11], wd * m[d + 11])));
            int at = v * 3;
            float x = p[at];
            float y = p[at + 1];
            float z = p[at + 2];
            outP[at] = mul(m0, x, mul(m1, y, mul(m2, z, m3)));
            outP[at + 1] = mul(m4, x, mul(m5, y, mul(m6, z, m7)));
            outP[at + 2] = mul(m8, x, mul(m9, y, mul(m10, z, m11)));
            x = n[at];
            y = n[at + 1];
            z = n[at + 2];
            outN[at] = mul(m0, x, mul(m1, y, m2 * z));
            outN[at + 1] = mul(m4, x, mul(m5, y, m6 * z));
            outN[at + 2] = mul(m8, x, mul(m9, y, m10 * z));
        }
    }

    private void skinFixedPositions(float[] p, float[] m, int from, int to, float[] out) {
        int[] fj = fixedJoints;
        float[] fw = fixedWeights;
        for (int v = from; v < to; v++) {
            int at = v * 3;
            float x = p[at];
            float y = p[at + 1];
            float z = p[at + 2];
            float ox = 0;
            float oy = 0;
            float oz = 0;
            for (int i = v * FIXED; i < v * FIXED + FIXED; i++) {
                float w = fw[i];
                int j = fj[i];
                ox = mul(w, mul(m[j], x, mul(m[j + 1], y, mul(m[j + 2], z, m[j + 3]))), ox);
                oy = mul(w, mul(m[j + 4], x, mul(m[j + 5], y, mul(m[j + 6], z, m[j + 7]))), oy);
                oz = mul(w, mul(m[j + 8], x, mul(m[j + 9], y, mul(m[j + 10], z, m[j + 11]))), oz);
            }
            out[at] = ox;
            out[at + 1] = oy;
            out[at + 2] = oz;
        }
    }

    private void skinRows(float[] p, float[] n, float[] m, int from, int to, float[] outP, float[] outN) {
        float[] b = new float[12];
        for (int v = from; v < to; v++) {
            java.util.Arrays.fill(b, 0);
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                float w = rows.weights()[i];
                int j = rows.joints()[i] * 12;
                for (int k = 0; k < 12; k++) {
                    b[k] += w * m[j + k];
                }
            }
            int at = v * 3;
            float x = p[at];
            float y = p[at + 1];
            float z = p[at + 2];
            outP[at] = b[0] * x + b[1] * y + b[2] * z + b[3];
            outP[at + 1] = b[4] * x + b[5] * y + b[6] * z + b[7];
            outP[at + 2] = b[8] * x + b[9] * y + b[10] * z + b[11];
            if (n != null && outN != null) {
                x = n[at];
                y = n[at + 1];
                z = n[at + 2];
                outN[at] = b[0] * x + b[1] * y + b[2] * z;
                outN[at + 1] = b[4] * x + b[5] * y + b[6] * z;
                outN[at + 2] = b[8] * x + b[9] * y + b[10] * z;
            }
        }
    }
}
