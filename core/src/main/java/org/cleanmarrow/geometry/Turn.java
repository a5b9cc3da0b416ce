package org.cleanmarrow.geometry;

import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Turns within transforms. */
public final class Turn {
    private Turn() {}

    /** The turn in a transform, mirrored or scaled as it may be; none where it is flat. */
    public static Quaterniond of(Matrix4d m) {
        Matrix3d turn = new Matrix3d(m);
        for (int c = 0; c < 3; c++) {
            Vector3d column = turn.getColumn(c, new Vector3d());
            turn.setColumn(c, column.length() > 0 ? column.normalize() : column);
        }
        if (turn.determinant() < 0) {
            turn.scale(-1);
        }
        Quaterniond q = new Quaterniond().setFromNormalized(turn).normalize();
        return q.isFinite() ? q : new Quaterniond();
    }
}
