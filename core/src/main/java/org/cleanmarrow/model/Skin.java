package org.cleanmarrow.model;

import java.util.Arrays;
import java.util.List;
import java.util.function.IntFunction;
import java.util.stream.IntStream;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * The joints that move a mesh, and where each stood when the mesh was bound.
 *
 * @param joints       node indices; influences refer to positions in this list
 * @param inverseBinds 16 a joint by column; null: all identity
 * @param skeleton     node index of the skeleton's top, or -1
 */
public record Skin(String name, int[] joints, float @Nullable [] inverseBinds, int skeleton, Passthrough carried)
        implements Refers<Skin> {

    /** New positions in {@link #joints} of those that stay, -1 for the others. */
    public int[] positions(Renumbering numbers) {
        int[] out = new int[joints.length];
        int next = 0;
        for (int j = 0; j < joints.length; j++) {
            out[j] = numbers.of(Renumbering.Kind.NODE, joints[j]) < 0 ? -1 : next++;
        }
        return out;
    }

    /** Joints that go take their binds along. */
    @Override
    public Skin renumbered(Renumbering numbers) {
        int[] kept = numbers.of(Renumbering.Kind.NODE, joints);
        float[] binds = inverseBinds == null ? null : new float[kept.length * 16];
        int[] positions = positions(numbers);
        for (int j = 0; binds != null && j < joints.length; j++) {
            if (positions[j] >= 0) {
                System.arraycopy(inverseBinds, j * 16, binds, positions[j] * 16, 16);
            }
        }
        return with(kept, binds, numbers.of(Renumbering.Kind.NODE, skeleton));
    }

    /** Inverse bind matrix of the joint at a position in {@link #joints}. */
    public Matrix4d inverseBind(int joint) {
        return inverseBinds == null ? new Matrix4d() : new Matrix4d().set(inverseBinds, joint * 16);
    }

    /** Whether a joint of it is one of another skin's too. */
    public boolean shares(Skin other) {
        return Arrays.stream(joints).anyMatch(j -> other.indexOfNode(j) >= 0);
    }

    /** Position of a node in {@link #joints}, or -1. */
    public int indexOfNode(int node) {
        for (int j = 0; j < joints.length; j++) {
            if (joints[j] == node) {
                return j;
            }
        }
        return -1;
    }

    /** With further joints at the end; influences keep their meaning. */
    public Skin plus(List<Integer> nodes, List<Matrix4d> binds) {
        int[] longer = Arrays.copyOf(joints, joints.length + nodes.size());
        Matrix4d[] all = new Matrix4d[longer.length];
        for (int j = 0; j < longer.length; j++) {
            boolean own = j < joints.length;
            longer[j] = own ? joints[j] : nodes.get(j - joints.length);
            all[j] = own ? inverseBind(j) : binds.get(j - joints.length);
        }
        return with(longer, pack(all), skeleton);
    }

    /** With the inverse bind of every joint made anew by its position in {@link #joints}. */
    public Skin bound(IntFunction<Matrix4d> inverseBind) {
        return with(
                joints,
                pack(IntStream.range(0, joints.length).mapToObj(inverseBind).toArray(Matrix4d[]::new)),
                skeleton);
    }

    public Skin with(int[] newJoints, float @Nullable [] newInverseBinds, int newSkeleton) {
        return new Skin(name, newJoints, newInverseBinds, newSkeleton, carried);
    }

    /** 16 numbers a matrix, by column, as {@link #inverseBinds} holds them. */
    public static float[] pack(Matrix4d[] matrices) {
        float[] out = new float[matrices.length * 16];
        for (int j = 0; j < matrices.length; j++) {
            matrices[j].get(out, j * 16);
            // glTF 2.0, 3.7.3.1: the fourth row must be exactly 0 0 0 1.
            out[j * 16 + 3] = 0;
            out[j * 16 + 7] = 0;
            out[j * 16 + 11] = 0;
            out[j * 16 + 15] = 1;
        }
        return out;
    }
}
