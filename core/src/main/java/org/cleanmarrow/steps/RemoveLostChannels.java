package org.cleanmarrow.steps;

import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Channel;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

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
            return Change.of(asset).count("channels removed", 0);
        }
        List<Clip> clips = asset.clips().stream()
                .map(c -> c.withChannels(
                        c.channels().stream().filter(x -> !isLost(x)).toList()))
                .filter(c -> !c.channels().isEmpty())
                .toList();
        Change change = Change.of(asset.withClips(clips)).count("channels removed", lost);
        int emptied = asset.clips().size() - clips.size();
        return emptied == 0 ? change : change.count("clips left with nothing and removed", emptied);
    }
}
