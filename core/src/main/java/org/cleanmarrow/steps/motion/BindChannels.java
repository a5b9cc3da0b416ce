package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Gives channels whose joints are gone to joints that are here, by a list of names and by what all of theirs begin with. What a clip
 * moves already it moves as before.
 */
@StepInfo(
        name = "bind-channels",
        says = "Gives channels whose joints are gone to joints that are here, by their names.")
public record BindChannels(
        @Parameter(says = "what channels moved and the joints that they are to move", fallback = "{}")
        Map<String, String> names,

        @Parameter(says = "what is taken off the front of the names that the list does not have", fallback = "\"\"")
        String prefix)
        implements Step {
    public BindChannels {
        names = Collections.unmodifiableMap(new TreeMap<>(names));
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        long bound = 0;
        long lost = 0;
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : asset.clips()) {
            work.stopIfCancelled();
            Set<Clips.Moved> taken = new HashSet<>();
            clip.channels().forEach(c -> taken.add(Clips.Moved.by(c)));
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : clip.channels()) {
                boolean gone = RemoveLostChannels.isLost(channel);
                int node = gone ? joint(asset, channel.target()) : -1;
                lost += gone ? 1 : 0;
                Channel given = new Channel(node, channel.path(), channel.track(), "", channel.carried());
                boolean binds = node >= 0 && fits(asset, given) && taken.add(Clips.Moved.by(given));
                bound += binds ? 1 : 0;
                channels.add(binds ? given : channel);
            }
            clips.add(clip.withChannels(channels));
        }
        if (bound == 0) {
            throw new Refused("bind.channels.none", lost);
        }
        return Change.of(asset.withClips(clips))
                .count("channels.bound", bound)
                .count("channels.still.lost", lost - bound);
    }

    private int joint(Asset asset, String target) {
        String listed = names.get(target);
        if (listed != null) {
            return asset.findNode(listed);
        }
        return target.startsWith(prefix) ? asset.findNode(target.substring(prefix.length())) : -1;
    }

    /** Weights and vertices need a mesh of the same size there, which no name promises; a matrix is not animated. */
    private static boolean fits(Asset asset, Channel channel) {
        boolean place = channel.path() == Channel.Path.TRANSLATION
                || channel.path() == Channel.Path.ROTATION
                || channel.path() == Channel.Path.SCALE;
        return place && asset.nodes().get(channel.node()).local().matrix() == null;
    }
}
