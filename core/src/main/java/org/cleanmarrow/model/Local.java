package org.cleanmarrow.model;

import java.util.Arrays;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * A node's transform against its parent: translation, rotation and scale, or a matrix where the file had one.
 *
 * @param translation 3 numbers, in the asset's unit
 * @param rotation    unit quaternion x, y, z, w
 * @param scale       3 numbers
 * @param matrix      16 numbers by column; null where the three parts hold. A node with a matrix is not animated.
 */
public record Local(float[] translation, float[] rotation, float[] scale, float @Nullable [] matrix) {
    public static final Local IDENTITY =
            new Local(new float[] {0, 0, 0}, new float[] {0, 0, 0, 1}, new float[] {1, 1, 1}, null);

    public static Local of(Vector3d t, Quaterniond r, Vector3d s) {
        return new Local(
                new float[] {(float) t.x, (float) t.y, (float) t.z},
                new float[] {(float) r.x, (float) r.y, (float) r.z, (float) r.w},
                new float[] {(float) s.x, (float) s.y, (float) s.z},
                null);
    }

    public static Local at(double x, double y, double z) {
        return of(new Vector3d(x, y, z), new Quaterniond(), new Vector3d(1));
    }

    /** A transform that only a matrix can hold, such as one with shear. */
    public static Local ofMatrix(Matrix4d m) {
        return new Local(IDENTITY.translation, IDENTITY.rotation, IDENTITY.scale, m.get(new float[16]));
    }

    public Matrix4d toMatrix() {
        if (matrix != null) {
            return new Matrix4d().set(matrix);
        }
        // As the file has it: a quaternion that misses unit length by rounding is not corrected.
        Quaterniond asStored = new Quaterniond(rotation[0], rotation[1], rotation[2], rotation[3]);
        return new Matrix4d().translationRotateScale(translationVector(), asStored, scaleVector());
    }

    public Vector3d translationVector() {
        return matrix == null
                ? new Vector3d(translation[0], translation[1], translation[2])
                : new Vector3d(matrix[12], matrix[13], matrix[14]);
    }

    /** The rotation as a unit quaternion; meaningless where {@link #matrix} is set. */
    public Quaterniond rotationQuaternion() {
        return new Quaterniond(rotation[0], rotation[1], rotation[2], rotation[3]).normalize();
    }

    public Vector3d scaleVector() {
        return new Vector3d(scale[0], scale[1], scale[2]);
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Local o
                && Arrays.equals(translation, o.translation)
                && Arrays.equals(rotation, o.rotation)
                && Arrays.equals(scale, o.scale)
                && Arrays.equals(matrix, o.matrix);
    }

    @Override
    public int hashCode() {
        return Arrays.hashCode(translation) * 31 + Arrays.hashCode(rotation);
    }
}
