package org.cleanmarrow.steps.motion;

import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Plays clips faster or slower from the same start; no key changes its value, and the rate of frames stays. */
@StepInfo(name = "retime", says = "Makes clips faster or slower; their keys keep their values, their rate stays.")
public record Retime(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "how many times as fast", least = 0.01, most = 100)
        double speed)
        implements Step {
    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(speed >= 0.01 && speed <= 100)) {
            throw new Refused("clip.speed", speed);
        }
        return Clips.each(asset, clips, work, clip -> speed == 1 ? clip : Timing.stretched(clip, 1 / speed));
    }
}
