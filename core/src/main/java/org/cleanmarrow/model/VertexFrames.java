package org.cleanmarrow.model;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteOrder;
import java.util.Arrays;
import org.jspecify.annotations.Nullable;

/**
 * The frames of a vertex cache as they came: positions in float32, little-endian, x, y and z of every vertex, or how far each is
 * from rest. They are never written to and may lie in what was read of a file, or in a file that is mapped, so that no
 * frame is copied before it is looked at.
 */
public final class VertexFrames {
    private static final ValueLayout.OfFloat NUMBER =
            ValueLayout.JAVA_FLOAT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);
    private static final long VERTEX = 3L * Float.BYTES;

    /** Frame after frame, in each one piece a run; null: as at rest. */
    private final @Nullable MemorySegment[] pieces;
    /** How many vertices the pieces of a frame have, one after the other. */
    private final int[] runs;

    private final float @Nullable [] rest;
    private final int vertices;

    private VertexFrames(@Nullable MemorySegment[] pieces, int[] runs, float @Nullable [] rest) {
        this.pieces = pieces;
        this.runs = runs;
        this.rest = rest;
        vertices = Arrays.stream(runs).sum();
    }

    /**
     * Positions, frame after frame.
     *
     * @param vertices of each frame, at least 1
     * @throws IllegalArgumentException where the numbers are not whole frames, or none, or more than 2^31
     */
    public VertexFrames(MemorySegment numbers, int vertices) {
        this(cut(numbers.asReadOnly(), vertices), new int[] {vertices}, null);
    }

    private static MemorySegment[] cut(MemorySegment numbers, int vertices) {
        long frame = VERTEX * vertices;
        if (vertices < 1
                || vertices > Integer.MAX_VALUE / 3
                || numbers.byteSize() == 0
                || numbers.byteSize() % frame != 0) {
            throw new IllegalArgumentException(
                    numbers.byteSize() + " bytes are not frames of " + vertices + " vertices");
        }
        MemorySegment[] out = new MemorySegment[Math.toIntExact(numbers.byteSize() / frame)];
        Arrays.setAll(out, f -> numbers.asSlice(frame * f, frame));
        return out;
    }

    /**
     * Frames said by how far vertices are from rest.
     *
     * @param rest   positions, 3 a vertex
     * @param runs   how many vertices lie in each piece of a frame, together those of rest
     * @param pieces frame after frame, a piece a run; null where nothing of it moves
     * @throws IllegalArgumentException where these do not fit each other
     */
    public static VertexFrames fromRest(float[] rest, int[] runs, @Nullable MemorySegment[] pieces) {
        if (rest.length == 0
                || runs.length == 0
                || pieces.length == 0
                || 3L * Arrays.stream(runs).asLongStream().sum() != rest.length
                || pieces.length % runs.length != 0) {
            throw new IllegalArgumentException(pieces.length + " pieces are not frames of " + rest.length / 3);
        }
        for (int i = 0; i < pieces.length; i++) {
            MemorySegment piece = pieces[i];
            if (piece != null && piece.byteSize() != VERTEX * runs[i % runs.length]) {
                throw new IllegalArgumentException("piece " + i + " has " + piece.byteSize() + " bytes");
            }
        }
        return new VertexFrames(pieces.clone(), runs.clone(), rest);
    }

    public int vertices() {
        return vertices;
    }

    public int count() {
        return pieces.length / runs.length;
    }

    /** Positions of one frame, 3 a vertex; safe from several threads. */
    public void read(int frame, float[] out) {
        int at = 0;
        for (int r = 0; r < runs.length; r++) {
            MemorySegment piece = pieces[frame * runs.length + r];
            if (piece == null) {
                Arrays.fill(out, at, at + 3 * runs[r], 0);
            } else {
                MemorySegment.copy(piece, NUMBER, 0, out, at, 3 * runs[r]);
            }
            at += 3 * runs[r];
        }
        for (int i = 0; rest != null && i < at; i++) {
            out[i] = rest[i] + out[i];
        }
    }

    /** Some frames in a row, of the same numbers. */
    public VertexFrames slice(int first, int many) {
        return first == 0 && many == count()
                ? this
                : new VertexFrames(
                        Arrays.copyOfRange(pieces, first * runs.length, (first + many) * runs.length), runs, rest);
    }
}
