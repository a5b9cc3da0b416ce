package org.cleanmarrow.steps.skin;

import org.cleanmarrow.edit.WeightRows;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.weights.InfluenceChoice;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Keeps so many influences of each vertex: the heaviest, those that matter most to how it moves, or the heaviest without a
 * step between neighbours, with a sum of one.
 */
@StepInfo(
        name = "limit-influences",
        says = "Keeps at most so many joints a vertex, by weight, by their effect on motion, or without a step.")
public record LimitInfluences(
        @Parameter(says = "name of the skinned mesh; empty: all", fallback = "\"\"")
        String mesh,

        @Parameter(says = "joints a vertex at most", fallback = "4", least = 1, most = 255)
        int most,

        @Parameter(says = "weights below this are dropped too, under 1", fallback = "0.0", least = 0, most = 1)
        double prune,

        @Parameter(
                says =
                        "size: the heaviest stay; effect: those that move the vertex most nearly as all did, over clips and"
                                + " trial poses, weighted anew; smooth: the heaviest stay, each less by the heaviest that goes, so that"
                                + " no fold is left where another joint becomes one of them",
                fallback = "\"size\"")
        By by)
        implements Step {
    /** Which joints stay. */
    public enum By {
        SIZE,
        EFFECT,
        SMOOTH
    }

    /** The heaviest stay. */
    public LimitInfluences(String mesh, int most, double prune) {
        this(mesh, most, prune, By.SIZE);
    }

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
            InfluenceChoice choice = by == By.EFFECT ? new InfluenceChoice(asset, number) : null;
            float[] at = MeshTopology.restPositions(old);
            work.stopIfCancelled();
            Mesh edited = WeightRows.edit(
                    old,
                    VertexSet.ALL.on(old),
                    (row, v) -> {
                        int before = row.size();
                        row.dropBelow(prune);
                        if (choice != null) {
                            choice.cut(row, at[v * 3], at[v * 3 + 1], at[v * 3 + 2], most);
                        }
                        if (by == By.SMOOTH) {
                            row.keepSmoothly(most);
                        }
                        row.keep(most);
                        dropped[0] += before - row.size();
                        return row.size() < before && row.normalise();
                    },
                    rows);
            changed += rows[0];
            out = rows[0] == 0 ? out : out.withMesh(number, edited);
        }
        return Change.of(out).count("vertices.changed", changed).count("influences.dropped", dropped[0]);
    }
}
