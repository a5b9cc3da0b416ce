package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Holds the first or the last pose of clips for so many frames, as a simulation needs to settle. */
@StepInfo(name = "hold-clip", says = "Holds the first or the last pose of clips for so many frames.")
public record HoldClip(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "how long it is held", unit = "frames", least = 1, most = LeadIn.MOST)
        int frames,

        @Parameter(says = "start: the first pose; end: the last", fallback = "\"end\"")
        Where where)
        implements Step {
    /** Which pose is held. */
    public enum Where {
        START,
        END
    }

    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (frames < 1 || frames > LeadIn.MOST) {
            throw new Refused("lead.in.frames", frames, LeadIn.MOST);
        }
        return Clips.each(asset, clips, work, where == Where.END ? this::longer : this::later);
    }

    private Clip longer(Clip clip) {
        float end = Timing.later((float) clip.end(), frames, clip.rate());
        List<Channel> channels = new ArrayList<>();
        for (Channel c : clip.channels()) {
            boolean rotation = c.path() == Channel.Path.ROTATION;
            channels.add(c.track() instanceof Sampler s ? c.withTrack(Timing.withKeys(s, rotation, end)) : c);
        }
        return clip.withChannels(channels).withRate(clip.rate());
    }

    private Clip later(Clip clip) {
        Clip moved = Timing.shifted(clip, frames);
        float start = (float) clip.start();
        return moved.withChannels(moved.channels().stream()
                .map(c -> c.track() instanceof Sampler s
                        ? c.withTrack(Timing.withKeys(s, c.path() == Channel.Path.ROTATION, start))
                        : c)
                .toList());
    }
}
