package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.NamedBranches;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Lets clips move some joints, with all that hangs on them, or all others; the channels of what they may not move go. Two
 * masks of the same joints, one each way, share a clip out between them.
 */
@StepInfo(name = "mask-clip", says = "Lets clips move only some joints with what hangs on them, or only the others.")
public record MaskClip(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "names of joints, with * for any run of characters; what hangs on them counts too")
        String joints,

        @Parameter(says = "true: they alone move; false: all but they", fallback = "true")
        boolean inside)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int[] branch = NamedBranches.of(asset, joints);
        int[] removed = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            List<Channel> left = clip.channels().stream()
                    .filter(c -> c.node() < 0 || branch[c.node()] >= 0 == inside)
                    .toList();
            if (left.isEmpty()) {
                throw new Refused("mask.empty", clip.name());
            }
            removed[0] += clip.channels().size() - left.size();
            return left.size() == clip.channels().size() ? clip : clip.withChannels(left);
        });
        return change.count("channels.removed", removed[0]);
    }
}
