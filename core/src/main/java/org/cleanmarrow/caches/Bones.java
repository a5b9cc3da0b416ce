package org.cleanmarrow.caches;

import java.util.stream.IntStream;
import org.cleanmarrow.geometry.RigidFit;
import org.joml.Matrix3d;
import org.joml.Vector3d;

/** Turns and shifts of some bones in every frame, 12 numbers each: three rows of four. */
final class Bones {
    final int count;
    final double[][] frames;

    Bones(int count, int frames) {
        this.count = count;
        this.frames = new double[frames][12 * count];
    }

    /** Fits a bone anew in every frame to points that are wholly its own. */
    void fit(int bone, Moving moving, int[] points) {
        IntStream.range(0, frames.length).parallel().forEach(t -> put(t, bone, fit(moving, t, points)));
    }

    static RigidFit fit(Moving moving, int t, int[] points) {
        RigidFit.Sums sums = new RigidFit.Sums();
        float[] p = moving.rest();
        float[] q = moving.frames().get(t);
        for (int i : points) {
            sums.add(p[3 * i], p[3 * i + 1], p[3 * i + 2], q[3 * i], q[3 * i + 1], q[3 * i + 2]);
        }
        return sums.fit();
    }

    void put(int t, int bone, RigidFit fit) {
        double[] m = frames[t];
        int at = 12 * bone;
        for (int row = 0; row < 3; row++) {
            for (int column = 0; column < 3; column++) {
                m[at + 4 * row + column] = fit.turn().get(column, row);
            }
            m[at + 4 * row + 3] = fit.shift().get(row);
        }
    }

    RigidFit at(int t, int bone) {
        double[] m = frames[t];
        int at = 12 * bone;
        Matrix3d turn = new Matrix3d();
        for (int row = 0; row < 3; row++) {
            for (int column = 0; column < 3; column++) {
                turn.set(column, row, m[at + 4 * row + column]);
            }
        }
        return new RigidFit(turn, new Vector3d(m[at + 3], m[at + 7], m[at + 11]));
    }

    /** Where a bone takes a point. */
    void take(int t, int bone, float[] p, int point, double[] out) {
        double[] m = frames[t];
        int at = 12 * bone;
        double x = p[3 * point];
        double y = p[3 * point + 1];
        double z = p[3 * point + 2];
        out[0] = m[at] * x + m[at + 1] * y + m[at + 2] * z + m[at + 3];
        out[1] = m[at + 4] * x + m[at + 5] * y + m[at + 6] * z + m[at + 7];
        out[2] = m[at + 8] * x + m[at + 9] * y + m[at + 10] * z + m[at + 11];
    }

    /** Sum of squares, over all frames, of how far a bone leaves a point from where it is. */
    double off(int bone, Moving moving, int point) {
        double[] at = new double[3];
        double sum = 0;
        for (int t = 0; t < frames.length; t++) {
            take(t, bone, moving.rest(), point, at);
            float[] q = moving.frames().get(t);
            double x = at[0] - q[3 * point];
            double y = at[1] - q[3 * point + 1];
            double z = at[2] - q[3 * point + 2];
            sum += x * x + y * y + z * z;
        }
        return sum;
    }
}
