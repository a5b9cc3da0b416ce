package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;

/** Keeps the heaviest influences of each vertex and scales them to sum to one. */
@StepInfo(
        name = "limit-influences",
        says = "Keeps at most so many joints a vertex, the heaviest, and scales them to sum to one.")
public record LimitInfluences(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh,

        @Parameter(says = "joints a vertex at most, 1 to 255", fallback = "4")
        int most,

        @Parameter(says = "weights below this are dropped too, 0 to under 1", fallback = "0.0")
        double prune)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        if (!(prune >= 0 && prune < 1)) {
            throw new Refused("prune.range", prune);
        }
        Asset out = asset;
        long changed = 0;
        long[] dropped = {0};
        for (int number : WeightRows.meshes(asset, mesh)) {
            Mesh old = out.meshes().get(number);
            long[] rows = {0};
            Mesh edited = WeightRows.edit(old, VertexSet.ALL.on(old), (row, v) -> limit(row, dropped), rows);
            changed += rows[0];
            out = rows[0] == 0 ? out : out.withMesh(number, edited);
        }
        return Change.of(out).count("vertices changed", changed).count("influences dropped", dropped[0]);
    }

    private boolean limit(WeightRows.Row row, long[] dropped) {
        int before = row.size;
        while (row.size > 1) {
            int least = 0;
            for (int i = 1; i < row.size; i++) {
                // Of equals the later goes, so that the order in the file decides and not chance.
                if (row.weights[i] <= row.weights[least]) {
                    least = i;
                }
            }
            if (row.size <= most && row.weights[least] >= prune) {
                break;
            }
            row.remove(least);
        }
        dropped[0] += before - row.size;
        return row.size < before && row.normalise();
    }
}
