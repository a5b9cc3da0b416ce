package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Cuts a clip to a range of frames, both ends counted; curves and turns between keys stay as they are. */
@StepInfo(name = "trim-clip", says = "Cuts a clip to a range of frames; what is left moves as it did.")
public record TrimClip(
        @Parameter(says = "name of the clip") String clip,
        @Parameter(says = "first frame that stays") int first,
        @Parameter(says = "last frame that stays") int last,

        @Parameter(says = "the first frame becomes frame 0", fallback = "true")
        boolean toZero)
        implements Step {
    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Clips.number(asset, clip);
        Clip was = asset.clips().get(number);
        Clips.within(was, first, last);
        Clip cut = Timing.cut(was, Timing.seconds(was, first), Timing.seconds(was, last));
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(number, toZero ? Timing.fromZero(cut) : cut);
        return Change.of(asset.withClips(clips))
                .count("frames.cut", was.lastFrame() - was.firstFrame() - (last - first));
    }
}
