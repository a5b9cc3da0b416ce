package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;

/** Questions about the joints of an asset. */
public final class Skeletons {
    private Skeletons() {}

    /** Joints with no joint above them, in node order. */
    public static List<Integer> tops(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        List<Integer> tops = new ArrayList<>();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n] && !hasAbove(n, joint, parents)) {
                tops.add(n);
            }
        }
        return tops;
    }

    private static boolean hasAbove(int n, boolean[] joint, int[] parents) {
        for (int up = parents[n]; up >= 0; up = parents[up]) {
            if (joint[up]) {
                return true;
            }
        }
        return false;
    }

    /** Joints of skins that move a mesh. */
    public static BitSet skinned(Asset asset) {
        BitSet out = new BitSet();
        asset.nodes().stream()
                .filter(n -> n.mesh() >= 0 && n.skin() >= 0)
                .flatMapToInt(n -> Arrays.stream(asset.skins().get(n.skin()).joints()))
                .forEach(out::set);
        return out;
    }

    /** All that hangs below the tops above what a clip moves. */
    public static BitSet movedBy(Asset asset, Clip clip) {
        BitSet moved = new BitSet();
        clip.channels().stream().filter(c -> c.node() >= 0).forEach(c -> moved.set(c.node()));
        return branches(asset, moved);
    }

    /** All that hangs below the tops above some nodes. */
    public static BitSet branches(Asset asset, BitSet some) {
        int[] parents = asset.parents();
        int[] top = new int[parents.length];
        for (int n : asset.topDown()) {
            top[n] = parents[n] < 0 ? n : top[parents[n]];
        }
        BitSet tops = new BitSet();
        some.stream().map(n -> top[n]).forEach(tops::set);
        BitSet out = new BitSet();
        for (int n = 0; n < top.length; n++) {
            out.set(n, tops.get(top[n]));
        }
        return out;
    }

    /** Nodes that move at least one vertex through a skin, and joints that something is attached to. */
    public static BitSet bearing(Asset asset) {
        BitSet bearing = new BitSet();
        for (Node node : asset.nodes()) {
            if (node.mesh() < 0 || node.skin() < 0) {
                continue;
            }
            int[] joints = asset.skins().get(node.skin()).joints();
            for (Primitive primitive : asset.meshes().get(node.mesh()).primitives()) {
                if (primitive.influences() != null) {
                    for (int joint : primitive.influences().joints()) {
                        bearing.set(joints[joint]);
                    }
                }
            }
        }
        boolean[] joint = asset.attached().isEmpty() ? new boolean[0] : asset.jointFlags();
        for (Attached thing : asset.attached()) {
            if (joint[thing.node()]) {
                bearing.set(thing.node());
            }
        }
        return bearing;
    }

    /**
     * Joints at the ends of chains that move nothing and carry nothing, the outermost and whatever is bare above
     * them; a top only where others bear weight. What hangs bare below a joint that bears weight is an end whether a skin
     * names it or not. Where no mesh hangs on any skeleton at all, as in a file of motion alone, only those count
     * that are named as ends and stay still.
     */
    public static BitSet idleEnds(Asset asset) {
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        BitSet bearing = bearing(asset);
        BitSet animated = asset.animatedNodes();
        int tops = tops(asset).size();
        BitSet idle = new BitSet();
        int[] order = asset.topDown();
        for (int i = order.length - 1; i >= 0; i--) {
            int n = order[i];
            Node node = asset.nodes().get(n);
            boolean below = false;
            for (int child : node.children()) {
                below |= !idle.get(child);
            }
            boolean carries =
                    node.mesh() >= 0 || node.camera() >= 0 || node.carried().hasExtensions();
            boolean namedEnd = isNamedEnd(node.name());
            boolean chainEnd = joint[n]
                    || namedEnd
                    || hangsOn(n, joint, parents) && node.carried().isEmpty();
            boolean end = bearing.isEmpty() ? namedEnd && !animated.get(n) : chainEnd;
            boolean spare = hasAbove(n, joint, parents) || joint[n] && !bearing.isEmpty() && tops > 1;
            if (end && !below && !carries && !bearing.get(n) && spare) {
                idle.set(n);
            }
        }
        return idle;
    }

    /** True where the node's parent is a joint. */
    private static boolean hangsOn(int n, boolean[] joint, int[] parents) {
        return parents[n] >= 0 && joint[parents[n]];
    }

    /** Chain ends that exporters add are not always listed as joints, but are named so (common practice). */
    public static boolean isNamedEnd(String name) {
        String lower = name.toLowerCase(java.util.Locale.ROOT);
        return lower.endsWith("_end") || lower.endsWith(".end") || lower.endsWith("end site");
    }
}
