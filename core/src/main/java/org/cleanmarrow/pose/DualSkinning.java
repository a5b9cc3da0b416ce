package org.cleanmarrow.pose;

import org.cleanmarrow.model.Influences;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Skinning by blended dual quaternions: Kavan, Collins, Zara and O'Sullivan, "Geometric Skinning with Approximate Dual
 * Quaternion Blending", ACM TOG 2008, algorithm 1, with the signs of section 4.1 and stretch taken off first and blended
 * linearly (section 4.2). Limbs that twist keep their width, which linear blending loses.
 */
public final class DualSkinning {
    private static final int ROUNDS = 12;

    private final double[] dual;
    private final double[] stretch;

    /** @param matrices what each joint does to the mesh: world x inverse bind */
    public DualSkinning(Matrix4d[] matrices) {
        dual = new double[matrices.length * 8];
        stretch = new double[matrices.length * 9];
        for (int j = 0; j < matrices.length; j++) {
            Matrix3d linear = new Matrix3d(matrices[j]);
            Matrix3d turn = turn(linear);
            Matrix3d left = turn.transpose(new Matrix3d()).mul(linear);
            for (int c = 0; c < 3; c++) {
                for (int r = 0; r < 3; r++) {
                    stretch[j * 9 + r * 3 + c] = left.get(c, r);
                }
            }
            Quaterniond q = new Quaterniond().setFromNormalized(turn).normalize();
            Vector3d t = matrices[j].getTranslation(new Vector3d());
            Quaterniond d = new Quaterniond(t.x, t.y, t.z, 0).mul(q);
            double[] eight = {q.x, q.y, q.z, q.w, d.x / 2, d.y / 2, d.z / 2, d.w / 2};
            System.arraycopy(eight, 0, dual, j * 8, 8);
        }
    }

    /** The rotation nearest to a matrix (polar decomposition, Higham 1986); a mirrored matrix gives its mirrored stretch. */
    private static Matrix3d turn(Matrix3d m) {
        Matrix3d x = new Matrix3d(m);
        if (Math.abs(x.determinant()) < 1e-30) {
            return new Matrix3d();
        }
        if (x.determinant() < 0) {
            x.scale(-1);
        }
        for (int i = 0; i < ROUNDS; i++) {
            Matrix3d other = x.invert(new Matrix3d()).transpose();
            x.add(other).scale(0.5);
        }
        return x;
    }

    /**
     * @param p    3 a vertex
     * @param n    normals, or null
     * @param outP where vertices go; those that follow nothing go to the origin, as with linear blending
     * @param at   number in the output of the first vertex; the others follow it
     */
    public void skin(
            Influences rows,
            float[] p,
            float @Nullable [] n,
            int from,
            int to,
            float[] outP,
            float @Nullable [] outN,
            int at) {
        double[] b = new double[8];
        double[] s = new double[9];
        for (int v = from, o = at * 3; v < to; v++, o += 3) {
            java.util.Arrays.fill(b, 0);
            java.util.Arrays.fill(s, 0);
            int pivot = heaviest(rows, v);
            double sum = 0;
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                int j = rows.joints()[i];
                double w = rows.weights()[i];
                sum += w;
                double dot = 0;
                for (int k = 0; k < 4; k++) {
                    dot += dual[j * 8 + k] * dual[pivot * 8 + k];
                }
                double signed = dot < 0 ? -w : w;
                for (int k = 0; k < 8; k++) {
                    b[k] += signed * dual[j * 8 + k];
                }
                for (int k = 0; k < 9; k++) {
                    s[k] += w * stretch[j * 9 + k];
                }
            }
            double length = Math.sqrt(b[0] * b[0] + b[1] * b[1] + b[2] * b[2] + b[3] * b[3]);
            if (!(length > 0)) {
                outP[o] = outP[o + 1] = outP[o + 2] = 0;
                continue;
            }
            for (int k = 0; k < 8; k++) {
                b[k] /= length;
            }
            double x = (s[0] * p[v * 3] + s[1] * p[v * 3 + 1] + s[2] * p[v * 3 + 2]) / sum;
            double y = (s[3] * p[v * 3] + s[4] * p[v * 3 + 1] + s[5] * p[v * 3 + 2]) / sum;
            double z = (s[6] * p[v * 3] + s[7] * p[v * 3 + 1] + s[8] * p[v * 3 + 2]) / sum;
            turn(b, x, y, z, outP, o);
            outP[o] += (float) (2 * (b[3] * b[4] - b[7] * b[0] + b[1] * b[6] - b[2] * b[5]));
            outP[o + 1] += (float) (2 * (b[3] * b[5] - b[7] * b[1] + b[2] * b[4] - b[0] * b[6]));
            outP[o + 2] += (float) (2 * (b[3] * b[6] - b[7] * b[2] + b[0] * b[5] - b[1] * b[4]));
            if (n != null && outN != null) {
                turn(b, n[v * 3], n[v * 3 + 1], n[v * 3 + 2], outN, o);
            }
        }
    }

    private static int heaviest(Influences rows, int v) {
        int best = rows.offsets()[v];
        for (int i = best; i < rows.offsets()[v + 1]; i++) {
            best = rows.weights()[i] > rows.weights()[best] ? i : best;
        }
        return best < rows.offsets()[v + 1] ? rows.joints()[best] : 0;
    }

    /** The vector turned by the unit quaternion in the first four. */
    private static void turn(double[] q, double x, double y, double z, float[] out, int at) {
        double cx = q[1] * z - q[2] * y + q[3] * x;
        double cy = q[2] * x - q[0] * z + q[3] * y;
        double cz = q[0] * y - q[1] * x + q[3] * z;
        out[at] = (float) (x + 2 * (q[1] * cz - q[2] * cy));
        out[at + 1] = (float) (y + 2 * (q[2] * cx - q[0] * cz));
        out[at + 2] = (float) (z + 2 * (q[0] * cy - q[1] * cx));
    }
}
