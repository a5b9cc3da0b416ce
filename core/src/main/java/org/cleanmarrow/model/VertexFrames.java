package org.cleanmarrow.model;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteOrder;

/**
 * The frames of a vertex cache as they came: positions in float32, little-endian, frame after frame, x, y and z of every
 * vertex. They are never written to; a file may be mapped in their place, so that it need not fit in memory.
 */
public final class VertexFrames {
    private static final ValueLayout.OfFloat NUMBER =
            ValueLayout.JAVA_FLOAT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);

    private final MemorySegment numbers;
    private final int vertices;
    private final int count;

    /**
     * @param vertices of each frame, at least 1
     * @throws IllegalArgumentException where the numbers are not whole frames, or none, or more than 2^31
     */
    public VertexFrames(MemorySegment numbers, int vertices) {
        long frame = 3L * Float.BYTES * vertices;
        if (vertices < 1
                || vertices > Integer.MAX_VALUE / 3
                || numbers.byteSize() == 0
                || numbers.byteSize() % frame != 0) {
            throw new IllegalArgumentException(
                    numbers.byteSize() + " bytes are not frames of " + vertices + " vertices");
        }
        this.numbers = numbers.asReadOnly();
        this.vertices = vertices;
        count = Math.toIntExact(numbers.byteSize() / frame);
    }

    public int vertices() {
        return vertices;
    }

    public int count() {
        return count;
    }

    /** Positions of one frame, 3 a vertex; safe from several threads. */
    public void read(int frame, float[] out) {
        MemorySegment.copy(numbers, NUMBER, 3L * Float.BYTES * vertices * frame, out, 0, 3 * vertices);
    }

    /** Some frames in a row, of the same numbers. */
    public VertexFrames slice(int first, int many) {
        if (first == 0 && many == count) {
            return this;
        }
        long frame = 3L * Float.BYTES * vertices;
        return new VertexFrames(numbers.asSlice(frame * first, frame * many), vertices);
    }
}
