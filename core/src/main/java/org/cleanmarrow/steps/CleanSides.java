package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.Sides;

/**
 * Takes joints of the left off vertices on the right, and the other way round; within a band around the middle both may
 * share (common practice). A vertex that only the wrong side moved goes to the same joint of its own side.
 */
@StepInfo(name = "clean-sides", says = "Takes left joints off the right side and right ones off the left.")
public record CleanSides(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "vertices that may change", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "half the width of the middle where both may share, in millimetres", fallback = "20.0")
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
            int side = sides.sideOf(sides.surface().placeOf(v), band);
            return side != 0 && cleaned(row, side, sides, choice, given);
        });
        return given[0] == 0 ? change : change.count("given to the joint of their own side", given[0]);
    }

    private static boolean cleaned(Row row, int side, Sides sides, MeshChoice choice, long[] given) {
        Row wrong = new Row();
        for (int i = row.size() - 1; i >= 0; i--) {
            if (sides.sideOfJoint(row.joint(i)) == -side && !choice.locked.get(row.joint(i)) && row.weight(i) > 0) {
                wrong.append(row.joint(i), row.weight(i));
                row.remove(i);
            }
        }
        if (wrong.size() == 0) {
            return false;
        }
        if (!row.normalise(choice.locked)) {
            for (int i = 0; i < wrong.size(); i++) {
                row.add(sides.twinOf(wrong.joint(i)), wrong.weight(i));
            }
            given[0]++;
            row.normalise(choice.locked);
        }
        return true;
    }
}
