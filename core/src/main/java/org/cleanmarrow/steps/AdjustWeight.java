package org.cleanmarrow.steps;

import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;

/** Adds to one joint's weight on the chosen vertices, or scales it; the other joints share what is left as they did. */
@StepInfo(name = "adjust-weight", says = "Adds to one joint's weight on chosen vertices, or scales it.")
public record AdjustWeight(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "name of the joint") String joint,

        @Parameter(says = "the chosen vertices", fallback = "\"all\"")
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
