package org.cleanmarrow.steps.skin;

import java.util.BitSet;
import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.weights.Row;
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
            double at = sides.leftward(sides.surface().weldedOf(v));
            // Kept of the other side's weight: all up to half the band, nothing from its rim on.
            double keep = band > 0 ? Math.clamp(2 - 2 * Math.abs(at) / band, 0, 1) : 0;
            return at != 0 && keep < 1 && cleaned(row, at > 0 ? 1 : -1, keep, sides, choice, given);
        });
        return given[0] == 0 ? change : change.count("given.to.the.joint.of.their.own.side", given[0]);
    }

    private static boolean cleaned(Row row, int side, double keep, Sides sides, MeshChoice choice, long[] given) {
        Row wrong = new Row();
        Row kept = new Row();
        for (int i = row.size() - 1; i >= 0; i--) {
            if (sides.sideOfJoint(row.joint(i)) == -side && !choice.locked.get(row.joint(i)) && row.weight(i) > 0) {
                double held = row.weight(i) * keep;
                wrong.append(row.joint(i), row.weight(i) - held);
                int joint = row.joint(i);
                row.remove(i);
                if (held > 0) {
                    kept.append(joint, held);
                }
            }
        }
        if (wrong.size() == 0) {
            return false;
        }
        // What is left is shared by those of the right side and the middle; the kept part stays as it is.
        BitSet fixed = (BitSet) choice.locked.clone();
        for (int i = 0; i < kept.size(); i++) {
            fixed.set(kept.joint(i));
        }
        row.add(kept, 1);
        if (!row.normalise(fixed)) {
            for (int i = 0; i < wrong.size(); i++) {
                row.add(sides.twinOf(wrong.joint(i)), wrong.weight(i));
            }
            given[0]++;
            row.normalise(choice.locked);
        }
        return true;
    }
}
