package org.cleanmarrow.convention;

import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * The change of numbers from one convention to another: a point p becomes {@code scale * turn * p}.
 *
 * <p>{@code turn} is a signed permutation that takes the source's left, up and forward to the target's. Its
 * determinant is -1 exactly when handedness differs; then winding and the sign of tangents flip too.
 *
 * @param turn  signed permutation matrix
 * @param scale target units in one source unit, above zero
 */
public record Conversion(Matrix3d turn, double scale) {

    /** The conversion between two conventions; {@link #isIdentity} when they are the same. */
    public static Conversion between(Conventions from, Conventions to) {
        Matrix3d source = frame(from);
        Matrix3d target = frame(to);
        Matrix3d turn = target.mul(source.transpose(), new Matrix3d());
        return new Conversion(turn, from.metresPerUnit() / to.metresPerUnit());
    }

    private static Matrix3d frame(Conventions c) {
        Vector3d left = c.left();
        return new Matrix3d(left, c.up().vector(), c.forward().vector());
    }

    public boolean mirrors() {
        return turn.determinant() < 0;
    }

    public boolean isIdentity() {
        return scale == 1 && turn.equals(new Matrix3d(), 0);
    }

    /** The whole change as one matrix. */
    public Matrix4d matrix() {
        return new Matrix4d().set3x3(new Matrix3d(turn).scale(scale));
    }

    /** A transform seen in the target's numbers: S M S^-1, the scale acting on the translation alone. */
    public Matrix4d apply(Matrix4d m) {
        Matrix4d s = matrix();
        return new Matrix4d(s).mul(m).mul(s.invert(new Matrix4d()));
    }
}
