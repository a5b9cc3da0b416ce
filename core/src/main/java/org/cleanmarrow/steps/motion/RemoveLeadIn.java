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

/** The reverse of {@link LeadIn}: what was before is there again to the last bit where all channels began together. */
@StepInfo(name = "remove-lead-in", says = "Cuts the first frames of clips off and moves the rest to where they began.")
public record RemoveLeadIn(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "how many go", fallback = "12", unit = "frames", least = 1, most = LeadIn.MOST)
        int frames)
        implements Step {
    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (frames < 1 || frames > LeadIn.MOST) {
            throw new Refused("lead.in.frames", frames, LeadIn.MOST);
        }
        return Clips.each(asset, clips, work, clip -> {
            Clips.within(clip, clip.firstFrame() + frames, clip.lastFrame());
            float from = Timing.later((float) clip.start(), frames, clip.rate());
            return Timing.shifted(Timing.cut(clip, from, clip.end()), -frames);
        });
    }
}
