package org.cleanmarrow.steps.skin;

import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Adds to one joint's weight on the chosen vertices, or scales it; the other joints share what is left as they did. */
@StepInfo(name = "adjust-weight", says = "Adds to one joint's weight on selected vertices, or scales it.")
public record AdjustWeight(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "name of the joint") String joint,

        @Parameter(says = "the selected vertices", fallback = "\"all\"")
        VertexSet vertices,

        @Parameter(says = "add the amount to the weight, or scale the weight by it")
        How how,

        @Parameter(says = "-1 to 1 to add, 0 to 100 to scale by")
        double amount,

        @Parameter(says = "joints whose weights are not touched, with * and commas between", fallback = "\"\"")
        String locked)
        implements Step {
    /** What the amount does. */
    public enum How {
        ADD,
        SCALE
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        boolean fits = how == How.ADD ? Math.abs(amount) <= 1 : amount >= 0 && amount <= 100;
        if (!fits) {
            throw new Refused("adjust.range", amount);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, locked);
        int own = choice.freeJoint(joint);
        return choice.edited((row, v) -> {
            double is = row.of(own);
            double goal = how == How.ADD ? is + amount : is * amount;
            return (is > 0 || goal > 0) && row.set(own, goal, choice.locked);
        });
    }
}
