package org.cleanmarrow.steps.skin;

import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Gives chosen vertices the mean weights of some: of themselves, so that a strap or button moves as one, or of others. */
@StepInfo(name = "copy-weights", says = "Gives selected vertices the mean weights of themselves, or of others.")
public record CopyWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "vertices whose mean is taken") VertexSet from,

        @Parameter(says = "vertices that get it", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "joints a vertex at most", fallback = "8", least = 1, most = 255)
        int most)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (most < 1 || most > 255) {
            throw new Refused("limit.range", most);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, "");
        Row mean = new Row();
        var rows = WeldedWeights.rows(choice.mesh);
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
