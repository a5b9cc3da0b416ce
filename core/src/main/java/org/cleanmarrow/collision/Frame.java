package org.cleanmarrow.collision;

import java.util.Optional;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Quaterniondc;
import org.joml.Vector3d;
import org.joml.Vector3dc;

/**
 * Where something stands in the axes of a node: an origin and three upright axes of unit length.
 *
 * @param turn     of the axes, a unit quaternion
 * @param mirrored the first axis points the other way, as where what they belong to was mirrored; so its points keep their
 *     order, and {@link #proper} gives right-handed axes
 */
public record Frame(Vector3dc origin, Quaterniondc turn, boolean mirrored) {
    public static final Frame NONE = at(new Vector3d());
    private static final double EVEN = 1e-5;

    public static Frame at(Vector3dc origin) {
        return at(origin, new Quaterniond());
    }

    public static Frame at(Vector3dc origin, Quaterniondc turn) {
        return new Frame(origin, turn, false);
    }

    /** Axes that are not quite upright, or of other lengths, are made so (Gram and Schmidt). */
    public static Frame of(Matrix4d matrix) {
        Vector3d x = matrix.getColumn(0, new Vector3d()).normalize();
        Vector3d y = matrix.getColumn(1, new Vector3d());
        y.fma(-x.dot(y), x).normalize();
        boolean mirrored = matrix.determinant3x3() < 0;
        Vector3d z = x.cross(y, new Vector3d()).mul(mirrored ? -1 : 1);
        Matrix3d axes = new Matrix3d(mirrored ? x.negate(new Vector3d()) : x, y, z);
        return new Frame(matrix.getTranslation(new Vector3d()), new Quaterniond().setFromNormalized(axes), mirrored);
    }

    public Matrix4d matrix() {
        return new Matrix4d().translationRotate(origin, turn).scale(mirrored ? -1 : 1, 1, 1);
    }

    public Vector3d axis(int number) {
        return matrix().getColumn(number, new Vector3d());
    }

    public boolean isNone() {
        return !mirrored && origin.lengthSquared() == 0 && Math.abs(turn.w()) == 1;
    }

    /**
     * Right-handed axes in its place.
     *
     * @param all where it is mirrored: all three axes turn round, not the first alone
     */
    public Frame proper(boolean all) {
        return !mirrored ? this : at(origin, all ? turn.rotateX(Math.PI, new Quaterniond()) : turn);
    }

    /** The frame as seen from other axes, where these are scaled alike in all directions. */
    Optional<Frame> moved(Matrix4d by) {
        return evenScale(by).map(s -> of(new Matrix4d(by).mul(matrix())));
    }

    /** How much longer everything becomes; empty where that depends on the direction. */
    static Optional<Double> evenScale(Matrix4d by) {
        Matrix3d square = by.get3x3(new Matrix3d());
        square.transpose(new Matrix3d()).mul(square, square);
        double even = (square.m00 + square.m11 + square.m22) / 3;
        double off = Math.max(
                Math.max(Math.abs(square.m00 - even), Math.abs(square.m11 - even)),
                Math.max(
                        Math.abs(square.m22 - even),
                        Math.max(Math.abs(square.m01), Math.max(Math.abs(square.m02), Math.abs(square.m12)))));
        return off <= EVEN * even ? Optional.of(Math.sqrt(even)) : Optional.empty();
    }
}
