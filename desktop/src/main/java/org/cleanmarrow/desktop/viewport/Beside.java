package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.opengl.GL33C.GL_ARRAY_BUFFER;
import static org.lwjgl.opengl.GL33C.GL_FLOAT;
import static org.lwjgl.opengl.GL33C.GL_STATIC_DRAW;
import static org.lwjgl.opengl.GL33C.GL_TRIANGLES;
import static org.lwjgl.opengl.GL33C.glBindBuffer;
import static org.lwjgl.opengl.GL33C.glBindVertexArray;
import static org.lwjgl.opengl.GL33C.glBufferData;
import static org.lwjgl.opengl.GL33C.glDrawArrays;
import static org.lwjgl.opengl.GL33C.glEnableVertexAttribArray;
import static org.lwjgl.opengl.GL33C.glGenBuffers;
import static org.lwjgl.opengl.GL33C.glGenVertexArrays;
import static org.lwjgl.opengl.GL33C.glVertexAttribPointer;

import java.util.ArrayList;
import java.util.List;
import org.joml.Vector3d;

/** Things of known size that stand beside the asset: a plain figure of 1.8 m and a cube of 1 m. */
final class Beside {
    static final int FIGURE = 0;
    static final int CUBE = 1;
    private static final int AROUND = 14;
    private static final int QUARTER = 5;

    private final int[] arrays = new int[2];
    private final int[] counts = new int[2];

    void draw(int which) {
        if (arrays[which] == 0) {
            load(which, which == FIGURE ? figure() : cube());
        }
        glBindVertexArray(arrays[which]);
        glDrawArrays(GL_TRIANGLES, 0, counts[which]);
    }

    /** @param corners position and normal in turn, three corners a triangle */
    private void load(int which, List<Vector3d> corners) {
        float[] values = new float[corners.size() * 3];
        for (int i = 0; i < corners.size(); i++) {
            Vector3d v = corners.get(i);
            values[i * 3] = (float) v.x;
            values[i * 3 + 1] = (float) v.y;
            values[i * 3 + 2] = (float) v.z;
        }
        arrays[which] = glGenVertexArrays();
        counts[which] = corners.size() / 2;
        glBindVertexArray(arrays[which]);
        glBindBuffer(GL_ARRAY_BUFFER, glGenBuffers());
        glBufferData(GL_ARRAY_BUFFER, values, GL_STATIC_DRAW);
        for (int location = 0; location < 2; location++) {
            glEnableVertexAttribArray(location);
            glVertexAttribPointer(location, 3, GL_FLOAT, false, 24, location * 12L);
        }
    }

    static List<Vector3d> cube() {
        List<Vector3d> out = new ArrayList<>();
        for (int axis = 0; axis < 3; axis++) {
            for (int side = -1; side <= 1; side += 2) {
                Vector3d n = unit(axis).mul(side);
                Vector3d u = unit((axis + 1) % 3).mul(0.5);
                Vector3d v = unit((axis + 2) % 3).mul(0.5 * side);
                Vector3d c = new Vector3d(n).mul(0.5).add(0, 0.5, 0);
                int[][] quad = {{-1, -1}, {1, -1}, {1, 1}, {-1, -1}, {1, 1}, {-1, 1}};
                for (int[] q : quad) {
                    out.add(new Vector3d(c).fma(q[0], u).fma(q[1], v));
                    out.add(n);
                }
            }
        }
        return out;
    }

    private static Vector3d unit(int axis) {
        return new Vector3d(axis == 0 ? 1 : 0, axis == 1 ? 1 : 0, axis == 2 ? 1 : 0);
    }

    /** A figure of rounded limbs, 1.8 m tall, standing at the origin. */
    static List<Vector3d> figure() {
        List<Vector3d> out = new ArrayList<>();
        capsule(out, 0, 1.66, 0, 0, 1.70, 0, 0.10, 0.10);
        capsule(out, 0, 1.02, 0, 0, 1.36, 0, 0.15, 0.17);
        capsule(out, 0, 1.44, 0, 0, 1.58, 0, 0.055, 0.05);
        for (int side = -1; side <= 1; side += 2) {
            capsule(out, side * 0.20, 1.40, 0, side * 0.27, 1.12, 0, 0.06, 0.048);
            capsule(out, side * 0.27, 1.12, 0, side * 0.29, 0.84, 0.03, 0.046, 0.038);
            capsule(out, side * 0.09, 0.92, 0, side * 0.11, 0.50, 0, 0.09, 0.062);
            capsule(out, side * 0.11, 0.50, 0, side * 0.12, 0.09, 0, 0.06, 0.042);
            capsule(out, side * 0.12, 0.045, -0.03, side * 0.13, 0.04, 0.14, 0.045, 0.04);
        }
        return out;
    }

    private static void capsule(
            List<Vector3d> out,
            double x0,
            double y0,
            double z0,
            double x1,
            double y1,
            double z1,
            double r0,
            double r1) {
        Vector3d from = new Vector3d(x0, y0, z0);
        Vector3d to = new Vector3d(x1, y1, z1);
        Vector3d along = new Vector3d(to).sub(from).normalize();
        Vector3d u = Math.abs(along.y) > 0.8 ? new Vector3d(1, 0, 0) : new Vector3d(0, 1, 0);
        u.cross(along).normalize();
        Vector3d v = new Vector3d(along).cross(u);
        // Rings from pole to pole: a quarter circle of five steps at each end, straight between.
        for (int k = 0; k < 2 * QUARTER + 1; k++) {
            for (int a = 0; a < AROUND; a++) {
                int[][] quad = {{k, a}, {k, a + 1}, {k + 1, a + 1}, {k, a}, {k + 1, a + 1}, {k + 1, a}};
                for (int[] q : quad) {
                    boolean end = q[0] > QUARTER;
                    double angle = Math.PI / 2 * (end ? q[0] - QUARTER - 1 : q[0] - QUARTER) / QUARTER;
                    double turn = 2 * Math.PI * q[1] / AROUND;
                    Vector3d n = new Vector3d(along)
                            .mul(Math.sin(angle))
                            .fma(Math.cos(angle) * Math.cos(turn), u)
                            .fma(Math.cos(angle) * Math.sin(turn), v);
                    out.add(new Vector3d(end ? to : from).fma(end ? r1 : r0, n));
                    out.add(n);
                }
            }
        }
    }
}
