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
            float m0 = wa * m[a] + wb * m[b] + wc * m[c] + wd * m[d];
            float m1 = wa * m[a + 1] + wb * m[b + 1] + wc * m[c + 1] + wd * m[d + 1];
            float m2 = wa * m[a + 2] + wb * m[b + 2] + wc * m[c + 2] + wd * m[d + 2];
            float m3 = wa * m[a + 3] + wb * m[b + 3] + wc * m[c + 3] + wd * m[d + 3];
            float m4 = wa * m[a + 4] + wb * m[b + 4] + wc * m[c + 4] + wd * m[d + 4];
            float m5 = wa * m[a + 5] + wb * m[b + 5] + wc * m[c + 5] + wd * m[d + 5];
            float m6 = wa * m[a + 6] + wb * m[b + 6] + wc * m[c + 6] + wd * m[d + 6];
            float m7 = wa * m[a + 7] + wb * m[b + 7] + wc * m[c + 7] + wd * m[d + 7];
            float m8 = wa * m[a + 8] + wb * m[b + 8] + wc * m[c + 8] + wd * m[d + 8];
            float m9 = wa * m[a + 9] + wb * m[b + 9] + wc * m[c + 9] + wd * m[d + 9];
            float m10 = wa * m[a + 10] + wb * m[b + 10] + wc * m[c + 10] + wd * m[d + 10];
            float m11 = wa * m[a + 11] + wb * m[b + 11] + wc * m[c + 11] + wd * m[d + 11];
            int at = v * 3;
            float x = p[at];
            float y = p[at + 1];
            float z = p[at + 2];
            outP[at] = m0 * x + m1 * y + m2 * z + m3;
            outP[at + 1] = m4 * x + m5 * y + m6 * z + m7;
            outP[at + 2] = m8 * x + m9 * y + m10 * z + m11;
            x = n[at];
            y = n[at + 1];
            z = n[at + 2];
            outN[at] = m0 * x + m1 * y + m2 * z;
            outN[at + 1] = m4 * x + m5 * y + m6 * z;
            outN[at + 2] = m8 * x + m9 * y + m10 * z;
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
                ox += w * (m[j] * x + m[j + 1] * y + m[j + 2] * z + m[j + 3]);
                oy += w * (m[j + 4] * x + m[j + 5] * y + m[j + 6] * z + m[j + 7]);
                oz += w * (m[j + 8] * x + m[j + 9] * y + m[j + 10] * z + m[j + 11]);
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
