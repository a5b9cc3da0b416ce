package org.cleanmarrow.desktop.viewport;

import static org.lwjgl.opengl.GL33C.*;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Primitive;
import org.joml.Matrix4d;
import org.joml.Matrix4f;

/**
 * Draws what is selected, or what a click would take, without hiding the colours below: its rim, and its inside faintly
 * hatched. The visible inside is marked in the stencil; the rim is the same triangles a little shifted, where it is not.
 */
final class MarkDrawing {
    /** Width of the rim in pixels of the picture. */
    private static final float RIM = 1.6f;

    private static final float[][] SHIFTS = {
        {1, 0}, {-1, 0}, {0, 1}, {0, -1}, {0.7f, 0.7f}, {-0.7f, 0.7f}, {0.7f, -0.7f}, {-0.7f, -0.7f}
    };

    private final int program;

    /** @param program of the shaders {@code mark.vert} and {@code mark.frag} */
    MarkDrawing(int program) {
        this.program = program;
    }

    /** The marked triangles of one surface: those all of whose corners are marked. */
    static final class Marks {
        private final int array;
        private final int elements;
        private int count;
        private BitSet of;

        /** @param positions buffer of the surface's positions */
        Marks(int positions) {
            array = glGenVertexArrays();
            glBindVertexArray(array);
            glBindBuffer(GL_ARRAY_BUFFER, positions);
            glEnableVertexAttribArray(0);
            glVertexAttribPointer(0, 3, GL_FLOAT, false, 0, 0);
            elements = glGenBuffers();
            glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, elements);
        }

        /**
         * Takes the triangles between some vertices; nothing is done where the set is the same object.
         *
         * @param first number of the primitive's first vertex in the mesh
         */
        void take(Primitive p, int first, BitSet vertices) {
            if (of == vertices) {
                return;
            }
            of = vertices;
            int[] corners = p.triangleCorners();
            int[] kept = new int[corners.length];
            int end = 0;
            for (int t = 0; t + 2 < corners.length; t += 3) {
                if (vertices.get(first + corners[t])
                        && vertices.get(first + corners[t + 1])
                        && vertices.get(first + corners[t + 2])) {
                    kept[end++] = corners[t];
                    kept[end++] = corners[t + 1];
                    kept[end++] = corners[t + 2];
                }
            }
            count = end;
            glBindVertexArray(array);
            glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, elements);
            glBufferData(GL_ELEMENT_ARRAY_BUFFER, java.util.Arrays.copyOf(kept, end), GL_STATIC_DRAW);
        }

        void delete() {
            glDeleteVertexArrays(array);
            glDeleteBuffers(elements);
        }

        private void draw() {
            if (count > 0) {
                glBindVertexArray(array);
                glDrawElements(GL_TRIANGLES, count, GL_UNSIGNED_INT, 0);
            }
        }
    }

    /** Makes what is drawn next plain strokes and dots of a linear colour. */
    void strokes(Matrix4d clip, float[] linear) {
        glUseProgram(program);
        glUniformMatrix4fv(glGetUniformLocation(program, "clip"), false, new Matrix4f(clip).get(new float[16]));
        glUniform1i(glGetUniformLocation(program, "hatched"), 0);
        glUniform2f(glGetUniformLocation(program, "shift"), 0, 0);
        glUniform4f(
                glGetUniformLocation(program, "fill"),
                (float) Math.sqrt(linear[0]),
                (float) Math.sqrt(linear[1]),
                (float) Math.sqrt(linear[2]),
                1);
    }

    /**
     * Draws over the surfaces that are in the picture already.
     *
     * @param shifts how many of the shifted copies make the rim, 4 or 8
     * @param hatch  whether the inside is hatched too
     */
    void draw(Matrix4d clip, int width, int height, List<Marks> marks, float[] colour, int shifts, boolean hatch) {
        glUseProgram(program);
        glUniformMatrix4fv(glGetUniformLocation(program, "clip"), false, new Matrix4f(clip).get(new float[16]));
        int shift = glGetUniformLocation(program, "shift");
        int hatched = glGetUniformLocation(program, "hatched");
        glUniform4f(glGetUniformLocation(program, "fill"), colour[0], colour[1], colour[2], 1);
        glEnable(GL_POLYGON_OFFSET_FILL);
        glPolygonOffset(-1, -4);
        glDepthMask(false);
        glEnable(GL_STENCIL_TEST);
        glClear(GL_STENCIL_BUFFER_BIT);
        glStencilFunc(GL_ALWAYS, 1, 0xFF);
        glStencilOp(GL_KEEP, GL_KEEP, GL_REPLACE);
        glColorMask(false, false, false, false);
        glUniform1i(hatched, 0);
        glUniform2f(shift, 0, 0);
        marks.forEach(Marks::draw);
        glColorMask(true, true, true, true);
        glStencilOp(GL_KEEP, GL_KEEP, GL_KEEP);
        if (hatch) {
            glStencilFunc(GL_EQUAL, 1, 0xFF);
            glUniform1i(hatched, 1);
            marks.forEach(Marks::draw);
            glUniform1i(hatched, 0);
        }
        glStencilFunc(GL_NOTEQUAL, 1, 0xFF);
        for (int i = 0; i < shifts; i++) {
            glUniform2f(shift, SHIFTS[i][0] * RIM * 2 / width, SHIFTS[i][1] * RIM * 2 / height);
            marks.forEach(Marks::draw);
        }
        glDisable(GL_STENCIL_TEST);
        glDepthMask(true);
        glDisable(GL_POLYGON_OFFSET_FILL);
    }
}
