package org.cleanmarrow.steps.scale;

import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Turns a body so that it stands and faces as its conventions say, by quarter turns, in the data itself. Which way it
 * stands and faces is found from its own evidence ({@link Body}), so the step fits before and after a conversion alike.
 */
@StepInfo(
        name = "face-forward",
        says = "Turns a body by quarter turns so that it stands up and faces forward, in the data.")
public record FaceForward() implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Body.Frame frame = Body.of(asset).frame();
        Axis up = frame.known() ? Body.Frame.axis(frame.up()).orElse(null) : null;
        Axis forward = frame.known() ? Body.Frame.axis(frame.forward()).orElse(null) : null;
        if (up == null || forward == null || up.dimension() == forward.dimension()) {
            throw new Refused(frame.known() ? "facing.between" : "facing.unknown");
        }
        Conventions is = asset.conventions();
        Conventions stands = new Conventions(is.metresPerUnit(), up, forward, is.handedness());
        Change frozen = new FreezeNodes().apply(asset, work);
        Change turned = new Convert(is, false).apply(frozen.asset().withConventions(stands), work);
        return Change.of(turned.asset()).count("bodies.turned", stands.equals(is) ? 0 : 1);
    }
}
