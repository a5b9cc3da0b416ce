package org.cleanmarrow.steps.skin;

import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Makes the heavy joints of each chosen vertex heavier, up to one joint alone. */
@StepInfo(name = "sharpen-weights", says = "Makes the heavy joints of each vertex heavier, up to one joint alone.")
public record SharpenWeights(
        @Parameter(says = "name of the skinned mesh") String mesh,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(
                says =
                        "more: each vertex a little; hard: each vertex its heaviest joint alone; one: all the same joint,"
                                + " the heaviest over all of them",
                fallback = "\"more\"")
        How how,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {
    /** How far. */
    public enum How {
        MORE,
        HARD,
        ONE
    }

    /** Power that weights are raised to. */
    private static final double POWER = 1.5;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        int one = how == How.ONE ? heaviest(choice) : -1;
        return choice.edited((row, v) -> switch (how) {
            case MORE -> sharpened(row, choice);
            case HARD -> row.size() > 0 && row.set(row.joint(row.largest()), 1, choice.locked);
            case ONE -> one >= 0 && row.set(one, 1, choice.locked);
        });
    }

    private static boolean sharpened(Row row, MeshChoice choice) {
        Row out = new Row();
        for (int i = 0; i < row.size(); i++) {
            boolean held = choice.locked.get(row.joint(i));
            out.append(row.joint(i), held ? row.weight(i) : Math.pow(Math.max(0, row.weight(i)), POWER));
        }
        out.dropBelow(1e-4);
        if (row.size() < 2 || !out.normalise(choice.locked)) {
            return false;
        }
        row.clear();
        row.add(out, 1);
        return true;
    }

    private static int heaviest(MeshChoice choice) {
        double[] sums = new double[choice.skin.joints().length];
        var rows = org.cleanmarrow.weights.WeldedWeights.rows(choice.mesh);
        choice.vertices.stream().forEach(v -> {
            Row row = rows.apply(v);
            for (int i = 0; i < row.size(); i++) {
                sums[row.joint(i)] += row.weight(i);
            }
        });
        int best = -1;
        for (int j = 0; j < sums.length; j++) {
            best = !choice.locked.get(j) && sums[j] > 0 && (best < 0 || sums[j] > sums[best]) ? j : best;
        }
        return best;
    }
}
