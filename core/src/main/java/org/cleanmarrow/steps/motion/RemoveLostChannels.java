package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Removes channels that move nothing here because what they moved is gone. */
@StepInfo(name = "remove-lost-channels", says = "Removes clip channels whose node is not in the asset.")
public record RemoveLostChannels() implements Step {

    /** True for a channel without a node, unless an extension says what it moves. */
    public static boolean isLost(Channel channel) {
        return channel.node() < 0 && channel.path() != Channel.Path.POINTER;
    }

    @Override
    public Change apply(Asset asset, Work work) {
        long lost = 0;
        for (Clip clip : asset.clips()) {
            lost += clip.channels().stream().filter(RemoveLostChannels::isLost).count();
        }
        if (lost == 0) {
            return Change.of(asset).count("channels.removed", 0);
        }
        List<Clip> clips = asset.clips().stream()
                .map(c -> c.withChannels(
                        c.channels().stream().filter(x -> !isLost(x)).toList()))
                .filter(c -> !c.channels().isEmpty())
                .toList();
        Change change = Change.of(asset.withClips(clips)).count("channels.removed", lost);
        int emptied = asset.clips().size() - clips.size();
        return emptied == 0 ? change : change.count("clips.left.with.nothing.and.removed", emptied);
    }
}
