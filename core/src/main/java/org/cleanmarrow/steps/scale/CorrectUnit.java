package org.cleanmarrow.steps.scale;

import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Mends a unit that was mixed up: every length is multiplied, in vertices, joints, binds and keys, and the asset keeps the
 * conventions it says it is in. Because only a factor is asked for, it fits before and after a conversion alike.
 */
@StepInfo(
        name = "correct-unit",
        says = "Multiplies every length, where a unit was mixed up; unit and axes stay as stated.")
public record CorrectUnit(
        @Parameter(
                says = "what every length is multiplied by, above zero; 0.01 where centimetres were taken for metres")
        double factor)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(factor > 0)) {
            throw new Refused("unit.factor", factor);
        }
        Conventions is = asset.conventions();
        Conventions meant = new Conventions(is.metresPerUnit() * factor, is.up(), is.forward(), is.handedness());
        if (!(meant.metresPerUnit() > 0) || Double.isInfinite(meant.metresPerUnit())) {
            throw new Refused("unit.factor", factor);
        }
        return new Convert(is, false).apply(asset.withConventions(meant), work);
    }

    @Override
    public boolean reinterprets() {
        return true;
    }
}
