package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Keys at every frame of a rate, and at the clip's end. Steps stay steps; vertex caches keep their frames. */
@StepInfo(name = "resample", says = "Gives clips keys at a rate of frames, linear between them.")
public record Resample(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "keys a second", unit = "frames a second", least = 1, most = 1000)
        double rate)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(rate >= 1 && rate <= 1000)) {
            throw new Refused("clip.rate", rate);
        }
        return Clips.each(asset, clips, work, clip -> {
            float[] times = Timing.frames(clip, rate);
            List<Channel> channels =
                    clip.channels().stream().map(c -> Timing.keyed(c, times)).toList();
            return clip.withChannels(channels).withRate(rate);
        });
    }
}
