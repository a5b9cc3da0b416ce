package org.cleanmarrow.steps.skin;

import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.weights.Sides;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Takes joints of the left off vertices on the right, and the other way round; within a band around the middle both may
 * share (common practice), in its outer half ever less, so that no fold is left at its rim. A vertex that only the wrong
 * side moved goes to the same joint of its own side.
 */
@StepInfo(name = "clean-sides", says = "Takes left joints off the right side and right ones off the left.")
public record CleanSides(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "vertices that may change", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(
                says = "half the width of the middle where both may share",
                fallback = "20.0",
                unit = "mm",
                least = 0)
        double bandMillimetres,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(bandMillimetres >= 0)) {
            throw new Refused("mirror.tolerance", bandMillimetres);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        Sides sides = Sides.of(asset, choice.number);
        double band = bandMillimetres / 1000 / asset.conventions().metresPerUnit();
        long[] given = {0};
        Change change = choice.edited((row, v) -> {
            Sides.Cleaned cleaned = sides.clean(row, sides.surface().weldedOf(v), band, choice.locked);
            given[0] += cleaned == Sides.Cleaned.GIVEN ? 1 : 0;
            return cleaned != Sides.Cleaned.NOTHING;
        });
        return given[0] == 0 ? change : change.count("given.to.the.joint.of.their.own.side", given[0]);
    }
}
