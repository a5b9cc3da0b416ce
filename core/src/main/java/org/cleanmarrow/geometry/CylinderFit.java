package org.cleanmarrow.geometry;

import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.factory.DecompositionFactory_DDRM;
import org.joml.Matrix3d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * The cylinder that lies nearest to some triangles of a surface, such as the barrel of a hinge.
 *
 * @param centre    on the axis, in the middle of what the points span
 * @param axis      unit vector
 * @param radius    in the unit of the points
 * @param deviation root mean square distance of the points from the cylinder's side
 */
public record CylinderFit(Vector3d centre, Vector3d axis, double radius, double deviation) {
    private static final int ROUNDS = 30;

    /**
     * Fits by the directions that the triangles face, which all stand upright on the axis, and then, seen along the axis,
     * a circle through the corners: first the algebraic one, then by Gauss and Newton the one of least distance (Gander,
     * Golub and Strebel 1994, sections 2 and 3).
     *
     * @param triangles 9 numbers a triangle
     * @return null where there are fewer than three triangles, or where they lie in one plane
     */
    public static @Nullable CylinderFit of(float[] triangles) {
        if (triangles.length < 27) {
            return null;
        }
        Matrix3d spread = new Matrix3d().zero();
        Vector3d a = new Vector3d();
        Vector3d b = new Vector3d();
        Vector3d c = new Vector3d();
        for (int t = 0; t < triangles.length; t += 9) {
            a.set(triangles[t], triangles[t + 1], triangles[t + 2]);
            b.set(triangles[t + 3], triangles[t + 4], triangles[t + 5]).sub(a);
            c.set(triangles[t + 6], triangles[t + 7], triangles[t + 8]).sub(a);
            Vector3d n = b.cross(c);
            double area = n.length();
            if (area > 0) {
                n.div(area);
                for (int i = 0; i < 3; i++) {
                    for (int j = 0; j < 3; j++) {
                        spread.set(i, j, spread.get(i, j) + area * n.get(i) * n.get(j));
                    }
                }
            }
        }
        CylinderFit best = null;
        for (Vector3d axis : directions(spread)) {
            CylinderFit fit = around(axis, triangles);
            if (fit != null && (best == null || fit.deviation < best.deviation)) {
                best = fit;
            }
        }
        return best;
    }

    /** The three main directions of a symmetric matrix. */
    private static Vector3d[] directions(Matrix3d m) {
        DMatrixRMaj dense = new DMatrixRMaj(3, 3);
        for (int i = 0; i < 9; i++) {
            dense.set(i / 3, i % 3, m.get(i / 3, i % 3));
        }
        var eigen = DecompositionFactory_DDRM.eig(3, true, true);
        if (!eigen.decompose(dense)) {
            return new Vector3d[0];
        }
        Vector3d[] out = new Vector3d[3];
        for (int i = 0; i < 3; i++) {
            DMatrixRMaj v = eigen.getEigenVector(i);
            out[i] = new Vector3d(v.get(0), v.get(1), v.get(2)).normalize();
        }
        return out;
    }

    private static @Nullable CylinderFit around(Vector3d axis, float[] points) {
        Vector3d u = Math.abs(axis.x) < 0.7 ? new Vector3d(1, 0, 0) : new Vector3d(0, 1, 0);
        u.fma(-u.dot(axis), axis).normalize();
        Vector3d v = new Vector3d(axis).cross(u);
        int count = points.length / 3;
        double[] x = new double[count];
        double[] y = new double[count];
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        Vector3d p = new Vector3d();
        for (int i = 0; i < count; i++) {
            p.set(points[i * 3], points[i * 3 + 1], points[i * 3 + 2]);
            x[i] = p.dot(u);
            y[i] = p.dot(v);
            low = Math.min(low, p.dot(axis));
            high = Math.max(high, p.dot(axis));
        }
        double[] circle = circle(x, y);
        if (circle == null) {
            return null;
        }
        double squares = 0;
        for (int i = 0; i < count; i++) {
            double off = Math.hypot(x[i] - circle[0], y[i] - circle[1]) - circle[2];
            squares += off * off;
        }
        Vector3d centre = new Vector3d(u).mul(circle[0]).fma(circle[1], v).fma((low + high) / 2, axis);
        return new CylinderFit(centre, axis, circle[2], Math.sqrt(squares / count));
    }

    /** Centre and radius of the circle of least distance, or null where there is none. */
    static double @Nullable [] circle(double[] x, double[] y) {
        int n = x.length;
        double mx = java.util.Arrays.stream(x).sum() / n;
        double my = java.util.Arrays.stream(y).sum() / n;
        Matrix3d normal = new Matrix3d().zero();
        Vector3d right = new Vector3d();
        for (int i = 0; i < n; i++) {
            Vector3d row = new Vector3d(2 * (x[i] - mx), 2 * (y[i] - my), 1);
            double square = (x[i] - mx) * (x[i] - mx) + (y[i] - my) * (y[i] - my);
            add(normal, right, row, square);
        }
        Vector3d found = normal.invert().transform(right);
        double radius = Math.sqrt(found.z + found.x * found.x + found.y * found.y);
        double[] out = {mx + found.x, my + found.y, radius};
        for (int round = 0; round < ROUNDS && Double.isFinite(out[2]); round++) {
            normal.zero();
            right.zero();
            for (int i = 0; i < n; i++) {
                double dx = x[i] - out[0];
                double dy = y[i] - out[1];
                double far = Math.max(Math.hypot(dx, dy), 1e-300);
                add(normal, right, new Vector3d(-dx / far, -dy / far, -1), out[2] - far);
            }
            Vector3d step = normal.invert().transform(right);
            if (!step.isFinite()) {
                break;
            }
            out[0] += step.x;
            out[1] += step.y;
            out[2] += step.z;
            if (step.length() <= 1e-12 * out[2]) {
                break;
            }
        }
        return Double.isFinite(out[0] + out[1] + out[2]) && out[2] > 0 ? out : null;
    }

    private static void add(Matrix3d normal, Vector3d right, Vector3d row, double value) {
        for (int i = 0; i < 3; i++) {
            right.setComponent(i, right.get(i) + row.get(i) * value);
            for (int j = 0; j < 3; j++) {
                // JOML counts columns first; the matrix is symmetric.
                normal.set(i, j, normal.get(i, j) + row.get(i) * row.get(j));
            }
        }
    }
}
