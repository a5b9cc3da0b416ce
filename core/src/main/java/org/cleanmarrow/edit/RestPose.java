package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.work.Change;

/** Puts nodes at rest elsewhere without changing any clip. */
public final class RestPose {
    private RestPose() {}

    /**
     * The asset with other rest transforms. Where a clip says nothing of a node that changed, its old rest was meant, and
     * is keyed.
     */
    public static Change made(Asset asset, List<Node> nodes) {
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : asset.clips()) {
            NodeMotion motion = new NodeMotion(asset, clip);
            List<Channel> channels = new ArrayList<>(clip.channels());
            for (int n = 0; n < nodes.size(); n++) {
                Local was = asset.nodes().get(n).local();
                if (was.equals(nodes.get(n).local())) {
                    continue;
                }
                List<Channel.Path> has =
                        motion.channels(n).stream().map(Channel::path).toList();
                float[] start = {clip.channels().isEmpty() ? 0 : (float) clip.start()};
                Baker.channels(n, start, true, t -> was, nodes.get(n).local()).stream()
                        .filter(c -> !has.contains(c.path()))
                        .forEach(channels::add);
            }
            clips.add(channels.size() == clip.channels().size() ? clip : clip.withChannels(channels));
        }
        return Change.of(asset.withNodes(nodes).withClips(clips));
    }
}
