package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.FrameRanges;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Cuts a clip into named ranges, each beginning at its own frame 0. Between two one frame is best left free (common practice). */
@StepInfo(name = "split-clip", says = "Cuts a clip into named ranges of frames, a clip each.")
public record SplitClip(
        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "names with first and last frame, such as open 0..71, close 73..144")
        String ranges,

        @Parameter(says = "the whole clip stays too", fallback = "false")
        boolean keep)
        implements Step {
    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Clips.number(asset, clip);
        Clip was = asset.clips().get(number);
        List<FrameRanges.Range> parts = FrameRanges.of(ranges);
        Set<String> names = new HashSet<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            if (c != number || keep) {
                names.add(asset.clips().get(c).name());
            }
        }
        List<Clip> made = new ArrayList<>();
        Change change = Change.of(asset);
        FrameRanges.Range before = null;
        for (FrameRanges.Range part : parts) {
            Clips.within(was, part.first(), part.last());
            if (!names.add(part.name())) {
                throw new Refused("clip.name.taken", part.name());
            }
            Clip cut = Timing.cut(was, Timing.seconds(was, part.first()), Timing.seconds(was, part.last()));
            made.add(Timing.fromZero(cut).withName(part.name()).withLoop(false));
            if (before != null && part.first() <= before.last() + 1) {
                change = change.note("split.touch", before.name(), part.name());
            }
            before = part;
        }
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.addAll(number + 1, made);
        if (!keep) {
            clips.remove(number);
        }
        return new Change(asset.withClips(clips), change.counts(), change.notes()).count("clips.made", made.size());
    }
}
