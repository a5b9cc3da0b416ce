package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Scales the weights of every vertex to sum to one. Rows that already do keep their weights bit for bit. */
@StepInfo(name = "normalise-weights", says = "Scales the weights of every vertex to sum to one.")
public record NormaliseWeights(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh) implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Asset out = asset;
        long changed = 0;
        long empty = 0;
        for (int number : WeightRows.meshes(asset, mesh)) {
            Mesh old = out.meshes().get(number);
            BitSet all = VertexSet.ALL.on(old);
            long[] rows = {0};
            long[] bare = {0};
            Mesh edited = WeightRows.edit(
                    old,
                    all,
                    (row, v) -> {
                        if (row.sumsToOne()) {
                            return false;
                        }
                        if (row.normalise()) {
                            return true;
                        }
                        bare[0]++;
                        return false;
                    },
                    rows);
            changed += rows[0];
            empty += bare[0];
            out = rows[0] == 0 ? out : out.withMesh(number, edited);
        }
        Change change = Change.of(out).count("vertices.changed", changed);
        return empty == 0 ? change : change.count("follow.nothing.and.stay.so", empty);
    }
}
