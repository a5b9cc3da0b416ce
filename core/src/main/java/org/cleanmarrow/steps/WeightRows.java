package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.asset.Primitive;
import org.cleanmarrow.asset.Skin;
import org.cleanmarrow.step.Refused;

/** Rewrites influence rows of a mesh; rows that are not chosen keep their weights bit for bit. */
final class WeightRows {
    private WeightRows() {}

    /** Makes a new row from an old one. */
    interface Edit {
        /**
         * @param row to be changed in place: entries added, removed, reweighted
         * @return false where the row is to stay as it was
         */
        boolean edit(Row row, int vertex);
    }

    /** One vertex's entries while they are edited, in double. */
    static final class Row {
        int[] joints = new int[16];
        double[] weights = new double[16];
        int size;

        void load(Influences from, int vertex) {
            size = 0;
            for (int i = from.offsets()[vertex]; i < from.offsets()[vertex + 1]; i++) {
                add(from.joints()[i], from.weights()[i]);
            }
        }

        void add(int joint, double weight) {
            if (size == joints.length) {
                joints = java.util.Arrays.copyOf(joints, size * 2);
                weights = java.util.Arrays.copyOf(weights, size * 2);
            }
            joints[size] = joint;
            weights[size++] = weight;
        }

        void remove(int at) {
            System.arraycopy(joints, at + 1, joints, at, size - at - 1);
            System.arraycopy(weights, at + 1, weights, at, size - at - 1);
            size--;
        }

        int indexOf(int joint) {
            for (int i = 0; i < size; i++) {
                if (joints[i] == joint) {
                    return i;
                }
            }
            return -1;
        }

        double sum() {
            double sum = 0;
            for (int i = 0; i < size; i++) {
                sum += weights[i];
            }
            return sum;
        }

        int largest() {
            int best = 0;
            for (int i = 1; i < size; i++) {
                if (weights[i] > weights[best]) {
                    best = i;
                }
            }
            return best;
        }

        /**
         * Scales to a sum of one as float32 holds it: the rounding error of all goes into the largest.
         *
         * @return false where there is nothing to scale
         */
        boolean normalise() {
            double sum = sum();
            if (!(sum > 0) || Double.isInfinite(sum)) {
                return false;
            }
            int largest = largest();
            double others = 0;
            for (int i = 0; i < size; i++) {
                weights[i] = (float) (weights[i] / sum);
                others += i == largest ? 0 : weights[i];
            }
            weights[largest] = 1 - others;
            return true;
        }
    }

    /** Skinned meshes that a step with an optional mesh name works on. */
    static int[] meshes(Asset asset, String nameOrEmpty) throws Refused {
        if (!nameOrEmpty.isEmpty()) {
            return new int[] {Names.skinnedMesh(asset, nameOrEmpty)};
        }
        return java.util.stream.IntStream.range(0, asset.meshes().size())
                .filter(m -> asset.skinOfMesh(m) >= 0 && asset.meshes().get(m).skinned())
                .toArray();
    }

    static Skin skin(Asset asset, int mesh) {
        return asset.skins().get(asset.skinOfMesh(mesh));
    }

    /** The mesh with the chosen vertices' rows edited; {@code counted[0]} grows by the rows that changed. */
    static Mesh edit(Mesh mesh, BitSet vertices, Edit edit, long[] counted) {
        Map<Influences, BitSet> rows = new LinkedHashMap<>();
        Map<Influences, Integer> firstVertex = new LinkedHashMap<>();
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            if (p.influences() != null) {
                BitSet local = vertices.get(first, first + p.vertexCount());
                rows.computeIfAbsent(p.influences(), k -> new BitSet()).or(local);
                firstVertex.putIfAbsent(p.influences(), first);
            }
            first += p.vertexCount();
        }
        Map<Influences, Influences> edited = new LinkedHashMap<>();
        rows.forEach((old, chosen) -> edited.put(old, edit(old, chosen, edit, firstVertex.get(old), counted)));
        List<Primitive> primitives = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            Influences now = p.influences() == null ? null : edited.get(p.influences());
            primitives.add(now == p.influences() ? p : p.withInfluences(now));
        }
        return counted[0] == 0 ? mesh : mesh.withPrimitives(primitives);
    }

    private static Influences edit(Influences old, BitSet chosen, Edit edit, int first, long[] counted) {
        Influences.Builder builder = new Influences.Builder(old.vertexCount());
        Row row = new Row();
        long before = counted[0];
        int copied = 0;
        for (int v = chosen.nextSetBit(0); v >= 0; v = chosen.nextSetBit(v + 1)) {
            row.load(old, v);
            if (!edit.edit(row, first + v)) {
                continue;
            }
            counted[0]++;
            builder.copyRows(old, copied, v);
            copied = v + 1;
            for (int i = 0; i < row.size; i++) {
                builder.add(row.joints[i], (float) row.weights[i]);
            }
            builder.endRow();
        }
        builder.copyRows(old, copied, old.vertexCount());
        return counted[0] == before ? old : builder.build();
    }
}
