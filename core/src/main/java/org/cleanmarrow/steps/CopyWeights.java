package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.weights.PlaceWeights;
import org.cleanmarrow.weights.Row;

/** Gives chosen vertices the mean weights of some: of themselves, so that a strap or button moves as one, or of others. */
@StepInfo(name = "copy-weights", says = "Gives chosen vertices the mean weights of themselves, or of others.")
public record CopyWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "vertices whose mean is taken") VertexSet from,

        @Parameter(says = "vertices that get it", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "joints a vertex at most, 1 to 255", fallback = "8")
        int most)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, "");
        Row mean = new Row();
        var rows = PlaceWeights.rows(choice.mesh);
        from.on(choice.mesh).stream().forEach(v -> mean.add(rows.apply(v), 1));
        mean.keep(most);
        if (!mean.normalise()) {
            throw new Refused("copy.nothing", mesh);
        }
        mean.sort();
        return choice.edited((row, v) -> {
            row.clear();
            row.add(mean, 1);
            return true;
        });
    }
}
