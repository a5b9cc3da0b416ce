package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Clips played together as one: each channel as the last clip has it that has it. What a shorter clip moves holds its last
 * value. The new clip has the rate of the first, and stands behind the last of them.
 */
@StepInfo(
        name = "merge-clips",
        says = "Makes one clip of several played together; later ones win where they move the same.")
public record MergeClips(
        @Parameter(says = "names of the clips, with commas between; later ones win")
        String clips,

        @Parameter(says = "name of the new clip") String name,

        @Parameter(says = "the clips themselves stay too", fallback = "false")
        boolean keep)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<Integer> numbers = Clips.listed(asset, clips);
        List<Clip> merged = numbers.stream().map(asset.clips()::get).toList();
        Clip made = Clips.together(merged).withName(name);
        int all = merged.stream().mapToInt(c -> c.channels().size()).sum();
        return Clips.inPlaceOf(asset, numbers, made, keep)
                .count("channels.covered", all - made.channels().size());
    }
}
