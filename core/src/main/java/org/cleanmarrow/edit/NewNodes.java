package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Scene;

/** Puts further nodes into an asset. */
public final class NewNodes {
    private NewNodes() {}

    /** A node under the same parent as another, moved by the same keys; its number is the last. */
    public static Asset beside(Asset asset, int twin, Node added) {
        Asset placed = under(asset, asset.parents()[twin], added);
        int number = placed.nodes().size() - 1;
        List<Clip> clips = new ArrayList<>();
        for (Clip clip : placed.clips()) {
            List<Channel> own = clip.channels().stream()
                    .filter(c -> c.node() == twin)
                    .map(c -> c.withNode(number))
                    .toList();
            List<Channel> all = new ArrayList<>(clip.channels());
            all.addAll(own);
            clips.add(own.isEmpty() ? clip : clip.withChannels(all));
        }
        return placed.withClips(clips);
    }

    /** A node under a parent, or at the top of the shown scene where that is -1; its number is the last. */
    public static Asset under(Asset asset, int parent, Node added) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        int number = nodes.size();
        nodes.add(added);
        if (parent >= 0) {
            nodes.set(
                    parent,
                    nodes.get(parent).withChildren(with(nodes.get(parent).children(), number)));
            return asset.withNodes(nodes);
        }
        List<Scene> scenes = new ArrayList<>(asset.scenes());
        int shown = Math.max(0, asset.scene());
        if (shown < scenes.size()) {
            Scene scene = scenes.get(shown);
            scenes.set(shown, new Scene(scene.name(), with(scene.roots(), number), scene.carried()));
        }
        return asset.withNodes(nodes).withScenes(scenes);
    }

    /** A name that no node has: the one wanted, or that with the first free number. */
    public static String free(Asset asset, String wanted) {
        Set<String> taken = new HashSet<>();
        asset.nodes().forEach(n -> taken.add(n.name()));
        return free(taken, wanted);
    }

    /** The same among names, which it joins. */
    public static String free(Set<String> taken, String wanted) {
        String name = wanted;
        for (int i = 2; !taken.add(name); i++) {
            name = wanted + "_" + i;
        }
        return name;
    }

    private static int[] with(int[] list, int more) {
        int[] out = Arrays.copyOf(list, list.length + 1);
        out[list.length] = more;
        return out;
    }
}
