package org.cleanmarrow.steps.scale;

import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Says what unit and axes the numbers have been in all along. No number changes. */
@StepInfo(
        name = "declare-conventions",
        says = "States the unit and axes that the source really used; no number changes.")
public record DeclareConventions(
        @Parameter(says = "conventions the numbers are in, such as z-up-cm-rh")
        Conventions are) implements Step {

    @Override
    public Change apply(Asset asset, Work work) {
        return Change.of(asset.withConventions(are));
    }

    @Override
    public boolean reinterprets() {
        return true;
    }
}
