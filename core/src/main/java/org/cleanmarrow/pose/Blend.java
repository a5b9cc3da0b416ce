package org.cleanmarrow.pose;

import org.cleanmarrow.model.Influences;
import org.joml.Matrix4d;

/** What linear skinning does to one vertex, as a matrix. */
public final class Blend {
    private Blend() {}

    /**
     * The sum of the joints' matrices by a vertex's weights.
     *
     * @param joints affine; of each joint of the skin what it does to the mesh
     */
    public static Matrix4d of(Influences rows, int vertex, Matrix4d[] joints) {
        Matrix4d sum = new Matrix4d().zero();
        for (int i = rows.offsets()[vertex]; i < rows.offsets()[vertex + 1]; i++) {
            Matrix4d joint = joints[rows.joints()[i]];
            double w = rows.weights()[i];
            for (int c = 0; c < 4; c++) {
                for (int r = 0; r < 3; r++) {
                    sum.set(c, r, sum.get(c, r) + w * joint.get(c, r));
                }
            }
        }
        return sum.m33(1);
    }
}
