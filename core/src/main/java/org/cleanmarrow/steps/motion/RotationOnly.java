package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.BodyCarriers;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** For clips that are to play on a skeleton of other proportions: joints only turn, but for the tops of skeletons and what leads from them to the hips. */
@StepInfo(
        name = "rotation-only",
        says = "Removes translation and scale from clips, but for the joints that carry the body.")
public record RotationOnly(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "names of joints that keep theirs too, with * for any run of characters", fallback = "\"\"")
        String keep)
        implements Step {
    private static boolean isPlaceOrSize(Channel channel) {
        return channel.path() == Channel.Path.TRANSLATION || channel.path() == Channel.Path.SCALE;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        boolean[] carries = BodyCarriers.of(asset, keep);
        int[] removed = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            List<Channel> left = clip.channels().stream()
                    .filter(c -> c.node() < 0 || carries[c.node()] || !isPlaceOrSize(c))
                    .toList();
            removed[0] += clip.channels().size() - left.size();
            return left.size() == clip.channels().size() ? clip : clip.withChannels(left);
        });
        return change.count("channels.removed", removed[0]);
    }
}
