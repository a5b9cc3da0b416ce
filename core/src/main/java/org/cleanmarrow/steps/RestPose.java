package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Channel;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.asset.Local;
import org.cleanmarrow.asset.Node;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.step.Change;

/** Puts nodes at rest elsewhere without changing any clip. */
final class RestPose {
    private RestPose() {}

    /**
     * The asset with other rest transforms. Where a clip says nothing of a node that changed, its old rest was meant, and
     * is keyed.
     */
    static Change made(Asset asset, List<Node> nodes) {
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
