package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.RestValues;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** So many frames from rest to the first pose; the clip comes as much later. {@link RemoveLeadIn} takes them off again. */
@StepInfo(name = "lead-in", says = "Puts frames before clips that lead from rest to their first pose, for simulation.")
public record LeadIn(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(
                says = "length of the way from rest to the first pose; 12 is usual (common practice)",
                fallback = "12",
                unit = "frames",
                least = 1,
                most = LeadIn.MOST)
        int frames)
        implements Step {
    static final int MOST = 10_000;

    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (frames < 1 || frames > MOST) {
            throw new Refused("lead.in.frames", frames, MOST);
        }
        Pose rest = new Rig(asset).rest();
        Change change = Clips.each(asset, clips, work, clip -> {
            Clip later = Timing.shifted(clip, frames);
            float begins = (float) later.start();
            List<Channel> channels = later.channels().stream()
                    .map(c -> Timing.led(c, RestValues.of(asset, rest, c), (float) clip.start(), begins))
                    .toList();
            return later.withChannels(channels);
        });
        long caches = asset.clips().stream()
                .flatMap(c -> c.channels().stream())
                .filter(Channel::movesVertices)
                .count();
        return caches == 0 ? change : change.note("lead.in.caches", caches);
    }
}
