package org.cleanmarrow.model;

import java.util.Arrays;

/**
 * Which joints move each vertex, and by how much: one row a vertex, compressed.
 *
 * <p>Row v lies at {@code offsets[v] .. offsets[v + 1]}. Rows hold any number of entries in the order they
 * were given, zero weights left out; a row may be empty.
 *
 * @param offsets vertex count + 1 rising positions
 * @param joints  index into the skin's joint list, one an entry
 * @param weights one an entry; finite, not always summing to one (that is what checks are for)
 */
public record Influences(int[] offsets, int[] joints, float[] weights) {
    /** How far the sum of a row may miss one for each weight that is not zero (glTF 2.0, 3.7.3.3). */
    public static final double SUM_TOLERANCE = 2e-7;

    /** So many vertices, each moved by one joint alone. */
    public static Influences wholly(int vertices, int joint) {
        Builder rows = new Builder(vertices);
        for (int v = 0; v < vertices; v++) {
            rows.add(joint, 1);
            rows.endRow();
        }
        return rows.build();
    }

    public int vertexCount() {
        return offsets.length - 1;
    }

    public int rowLength(int vertex) {
        return offsets[vertex + 1] - offsets[vertex];
    }

    /** Most entries in any row; 0 when there is none. */
    public int longestRow() {
        int most = 0;
        for (int v = 0; v < vertexCount(); v++) {
            most = Math.max(most, rowLength(v));
        }
        return most;
    }

    /** Sum of a row's weights, in double. */
    public double sum(int vertex) {
        double sum = 0;
        for (int i = offsets[vertex]; i < offsets[vertex + 1]; i++) {
            sum += weights[i];
        }
        return sum;
    }

    /**
     * Whether a row sums to one as glTF 2.0, 3.7.3.3 has it: within 2e-7 for each weight that is not zero, added up in
     * double and also one after the other in float32, because readers do either.
     */
    public boolean sumsToOne(int vertex) {
        float single = 0;
        double whole = 0;
        int many = 0;
        for (int i = offsets[vertex]; i < offsets[vertex + 1]; i++) {
            single += weights[i];
            whole += weights[i];
            many += weights[i] == 0 ? 0 : 1;
        }
        double most = SUM_TOLERANCE * many;
        return Math.abs(whole - 1) <= most && Math.abs((double) single - 1) <= most;
    }

    /** Position of the joint that moves a vertex most, the first of equals; -1 where none does. */
    public int heaviest(int vertex) {
        int best = -1;
        float most = 0;
        for (int i = offsets[vertex]; i < offsets[vertex + 1]; i++) {
            if (weights[i] > most) {
                most = weights[i];
                best = joints[i];
            }
        }
        return best;
    }

    /** Weight of a joint on a vertex, 0 when it does not move it. */
    public float weight(int vertex, int joint) {
        float sum = 0;
        for (int i = offsets[vertex]; i < offsets[vertex + 1]; i++) {
            if (joints[i] == joint) {
                sum += weights[i];
            }
        }
        return sum;
    }

    /** True where another table has the same entries for a vertex, in the same order, bit for bit. */
    public boolean sameRow(Influences other, int vertex) {
        return Arrays.equals(
                        joints,
                        offsets[vertex],
                        offsets[vertex + 1],
                        other.joints,
                        other.offsets[vertex],
                        other.offsets[vertex + 1])
                && Arrays.equals(
                        weights,
                        offsets[vertex],
                        offsets[vertex + 1],
                        other.weights,
                        other.offsets[vertex],
                        other.offsets[vertex + 1]);
    }

    /** The same rows with joints renumbered; entries whose new number is below zero are dropped. */
    public Influences renumbered(int[] newIndex) {
        Builder builder = new Builder(vertexCount());
        for (int v = 0; v < vertexCount(); v++) {
            for (int i = offsets[v]; i < offsets[v + 1]; i++) {
                int joint = newIndex[joints[i]];
                if (joint >= 0) {
                    builder.add(joint, weights[i]);
                }
            }
            builder.endRow();
        }
        return builder.build();
    }

    /** Collects rows in vertex order. */
    public static final class Builder {
        private final int[] offsets;
        private int[] joints;
        private float[] weights;
        private int row;
        private int size;

        public Builder(int vertexCount) {
            offsets = new int[vertexCount + 1];
            joints = new int[Math.max(16, vertexCount * 4)];
            weights = new float[joints.length];
        }

        /** Adds an entry to the current row; zero weights are left out. */
        public void add(int joint, float weight) {
            if (weight == 0) {
                return;
            }
            if (size == joints.length) {
                joints = Arrays.copyOf(joints, size * 2);
                weights = Arrays.copyOf(weights, size * 2);
            }
            joints[size] = joint;
            weights[size++] = weight;
        }

        /** Copies and ends the rows {@code from .. to - 1} of another table. */
        public void copyRows(Influences other, int from, int to) {
            int start = other.offsets[from];
            int count = other.offsets[to] - start;
            if (size + count > joints.length) {
                int room = Math.max(size + count, joints.length * 2);
                joints = Arrays.copyOf(joints, room);
                weights = Arrays.copyOf(weights, room);
            }
            System.arraycopy(other.joints, start, joints, size, count);
            System.arraycopy(other.weights, start, weights, size, count);
            for (int v = from; v < to; v++) {
                offsets[++row] = size + other.offsets[v + 1] - start;
            }
            size += count;
        }

        public void endRow() {
            offsets[++row] = size;
        }

        public Influences build() {
            if (row != offsets.length - 1) {
                throw new IllegalStateException("rows: expected " + (offsets.length - 1) + ", found " + row);
            }
            return new Influences(offsets, Arrays.copyOf(joints, size), Arrays.copyOf(weights, size));
        }
    }
}
