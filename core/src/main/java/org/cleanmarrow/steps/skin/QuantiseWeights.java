package org.cleanmarrow.steps.skin;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Rounds weights to what 8 or 16 bits can hold, so that they still sum to one exactly: largest remainders first, as a
 * receiving side that rounds each by itself would not (glTF 2.0, 3.7.3.3, on sums of normalised integers).
 */
@StepInfo(name = "quantise-weights", says = "Rounds weights to 8 or 16 bits so that they sum to one exactly.")
public record QuantiseWeights(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh,

        @Parameter(says = "8 or 16", fallback = "8", unit = "bits", least = 8, most = 16)
        int bits)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (bits != 8 && bits != 16) {
            throw new Refused("quantise.bits", bits);
        }
        int steps = (1 << bits) - 1;
        Asset out = asset;
        long changed = 0;
        for (int number : WeightRows.meshes(asset, mesh)) {
            Mesh old = out.meshes().get(number);
            BitSet all = VertexSet.ALL.on(old);
            long[] rows = {0};
            Mesh edited = WeightRows.edit(old, all, (row, v) -> rounded(row, steps), rows);
            changed += rows[0];
            Mesh stored = edited.withPrimitives(edited.primitives().stream()
                    .map(p -> p.influences() == null ? p : p.withLayout(stored(p.layout())))
                    .toList());
            out = rows[0] == 0 && stored.equals(old) ? out : out.withMesh(number, stored);
        }
        return Change.of(out).count("vertices.changed", changed);
    }

    private Primitive.Layout stored(Primitive.Layout was) {
        Storage whole = bits == 8 ? Storage.UNSIGNED_BYTE_NORMALISED : Storage.UNSIGNED_SHORT_NORMALISED;
        return new Primitive.Layout(was.indices(), was.joints(), whole, was.sets(), was.faces());
    }

    static boolean rounded(Row row, int steps) {
        double sum = row.sum();
        if (!(sum > 0) || Double.isInfinite(sum)) {
            return false;
        }
        int n = row.size();
        long[] whole = new long[n];
        Integer[] order = new Integer[n];
        double[] rest = new double[n];
        long left = steps;
        for (int i = 0; i < n; i++) {
            double exact = row.weight(i) / sum * steps;
            whole[i] = (long) Math.floor(exact + 1e-4);
            rest[i] = exact - whole[i];
            left -= whole[i];
            order[i] = i;
        }
        Arrays.sort(order, (a, b) -> Double.compare(rest[b], rest[a]));
        for (int i = 0; left > 0; i = (i + 1) % n, left--) {
            whole[order[i]]++;
        }
        boolean same = true;
        Row out = new Row();
        for (int i = 0; i < n; i++) {
            float weight = (float) (whole[i] / (double) steps);
            same &= weight == (float) row.weight(i);
            if (whole[i] > 0) {
                out.append(row.joint(i), weight);
            }
        }
        if (same && out.size() == n) {
            return false;
        }
        row.clear();
        row.add(out, 1);
        return true;
    }
}
