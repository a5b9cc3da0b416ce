package org.cleanmarrow.geometry;

import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.ejml.interfaces.decomposition.SingularValueDecomposition_F64;
import org.joml.Matrix3d;
import org.joml.Matrix3dc;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.joml.Vector3dc;

/**
 * The turn and shift that bring points nearest to others, by least squares (Kabsch 1976; a reflection is turned back as by Umeyama
 * 1991).
 *
 * @param turn  never a reflection
 * @param shift after the turn
 */
public record RigidFit(Matrix3d turn, Vector3d shift) {

    /**
     * Sums over pairs of points, each with a weight on either side; a fit of any number of pairs takes one of these.
     *
     * <p>With {@code a} the weight of a pair, what is made least is the sum of squares of {@code q - a (turn p + shift)}.
     */
    public static final class Sums {
        private double weight;
        private final Vector3d from = new Vector3d();
        private final Vector3d to = new Vector3d();
        private final Matrix3d product = new Matrix3d().zero();

        /** A pair that counts in full. */
        public void add(double px, double py, double pz, double qx, double qy, double qz) {
            add(px, py, pz, qx, qy, qz, 1);
        }

        public void add(double px, double py, double pz, double qx, double qy, double qz, double a) {
            double aa = a * a;
            weight += aa;
            from.add(aa * px, aa * py, aa * pz);
            to.add(a * qx, a * qy, a * qz);
            product.m00 += a * px * qx;
            product.m01 += a * px * qy;
            product.m02 += a * px * qz;
            product.m10 += a * py * qx;
            product.m11 += a * py * qy;
            product.m12 += a * py * qz;
            product.m20 += a * pz * qx;
            product.m21 += a * pz * qy;
            product.m22 += a * pz * qz;
        }

        /** What fits best; no turn where points do not say one, and nothing at all where there are none. */
        public RigidFit fit() {
            if (!(weight > 0)) {
                return new RigidFit(new Matrix3d(), new Vector3d());
            }
            Vector3d p = from.div(weight, new Vector3d());
            Vector3d q = to.div(weight, new Vector3d());
            Matrix3d spread = new Matrix3d(product);
            spread.m00 -= weight * p.x * q.x;
            spread.m01 -= weight * p.x * q.y;
            spread.m02 -= weight * p.x * q.z;
            spread.m10 -= weight * p.y * q.x;
            spread.m11 -= weight * p.y * q.y;
            spread.m12 -= weight * p.y * q.z;
            spread.m20 -= weight * p.z * q.x;
            spread.m21 -= weight * p.z * q.y;
            spread.m22 -= weight * p.z * q.z;
            Matrix3d turn = turn(spread);
            return new RigidFit(turn, q.sub(turn.transform(p, new Vector3d())));
        }
    }

    /**
     * The rotation R for which the trace of R times the spread is greatest.
     *
     * @param spread column i, row j: the sum of the i-th coordinate before times the j-th after
     */
    public static Matrix3d turn(Matrix3dc spread) {
        DMatrixRMaj h = new DMatrixRMaj(3, 3);
        double most = 0;
        for (int i = 0; i < 3; i++) {
            for (int j = 0; j < 3; j++) {
                double x = spread.get(i, j);
                h.set(i, j, x);
                most = Math.max(most, Math.abs(x));
            }
        }
        if (!(most > 0) || !Double.isFinite(most)) {
            return new Matrix3d();
        }
        SingularValueDecomposition_F64<DMatrixRMaj> svd = DecompositionFactory_DDRM.svd(3, 3, true, true, true);
        if (!svd.decompose(h)) {
            return new Matrix3d();
        }
        DMatrixRMaj u = svd.getU(null, false);
        DMatrixRMaj v = svd.getV(null, false);
        double[] s = svd.getSingularValues();
        int least = s[0] <= s[1] && s[0] <= s[2] ? 0 : s[1] <= s[2] ? 1 : 2;
        double sign = det(u) * det(v) < 0 ? -1 : 1;
        Matrix3d out = new Matrix3d().zero();
        for (int i = 0; i < 3; i++) {
            for (int j = 0; j < 3; j++) {
                double sum = 0;
                for (int k = 0; k < 3; k++) {
                    sum += v.get(j, k) * u.get(i, k) * (k == least ? sign : 1);
                }
                out.set(i, j, sum);
            }
        }
        return out;
    }

    private static double det(DMatrixRMaj m) {
        return m.get(0, 0) * (m.get(1, 1) * m.get(2, 2) - m.get(1, 2) * m.get(2, 1))
                - m.get(0, 1) * (m.get(1, 0) * m.get(2, 2) - m.get(1, 2) * m.get(2, 0))
                + m.get(0, 2) * (m.get(1, 0) * m.get(2, 1) - m.get(1, 1) * m.get(2, 0));
    }

    /** Where a point comes to lie. */
    public Vector3d at(Vector3dc p) {
        return turn.transform(p, new Vector3d()).add(shift);
    }

    public Quaterniond rotation() {
        return new Quaterniond().setFromNormalized(turn).normalize();
    }
}
