package org.cleanmarrow.retarget;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.edit.BodyCarriers;
import org.cleanmarrow.edit.BoneLengths;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * The body that a clip was made on, where it moves joints of the same names but holds them at other lengths: a second skeleton beside
 * the first, with the first's turns at rest and the clip's lengths. How high its hips rest is not in the clip; they are taken to be as
 * high as its legs are long.
 *
 * <p>Cost: as {@link Retargeting}.
 */
public final class ClipBody {
    private final Asset asset;
    private final Clip clip;
    private final BodyRoles body;
    private final int[] bones;
    /** Each bone's number in the second skeleton. */
    private final Map<Integer, Integer> second = new HashMap<>();

    private final Retargeting retargeting;

    /**
     * A clip of a body whose hips are known.
     *
     * @param skeleton the body's nodes
     */
    public ClipBody(Asset asset, Clip clip, BodyRoles body, BitSet skeleton) {
        this.asset = asset;
        this.clip = clip;
        this.body = body;
        bones = skeleton.stream().toArray();
        for (int n : bones) {
            second.put(n, asset.nodes().size() + second.size());
        }
        Map<Integer, Vector3d> lengths = lengths();
        double ratio = retargeting(lengths, 1).ratio();
        retargeting = retargeting(lengths, ratio);
    }

    /** Whether a clip holds any joint that should only turn at another length than it rests at. */
    public static boolean isOther(Asset asset, Clip clip) {
        boolean[] carries = BodyCarriers.of(asset, "");
        return clip.channels().stream().anyMatch(c -> isBone(c, carries) && new BoneLengths(asset, c).isOther());
    }

    private static boolean isBone(Channel c, boolean[] carries) {
        return c.node() >= 0 && c.path() == Channel.Path.TRANSLATION && !carries[c.node()];
    }

    /** Where bones rest in the clip's body, against what they hang on. */
    private Map<Integer, Vector3d> lengths() {
        boolean[] carries = BodyCarriers.of(asset, "");
        Map<Integer, Vector3d> out = new HashMap<>();
        for (Channel c : clip.channels()) {
            if (isBone(c, carries)) {
                BoneLengths lengths = new BoneLengths(asset, c);
                Vector3d rest = asset.nodes().get(c.node()).local().translationVector();
                float[] first = new float[3];
                c.sampler().at(0, first);
                out.put(c.node(), lengths.isOther() ? new Vector3d(first) : rest.div(lengths.factor()));
            }
        }
        return out;
    }

    private Retargeting retargeting(Map<Integer, Vector3d> lengths, double ratio) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        BitSet toHips = toHips();
        for (int n : bones) {
            Node node = asset.nodes().get(n);
            Local local = node.local();
            Vector3d rest = new Vector3d(lengths.getOrDefault(n, local.translationVector()));
            if (toHips.get(n)) {
                rest.div(ratio);
            }
            Local other =
                    local.matrix() != null ? local : Local.of(rest, local.rotationQuaternion(), local.scaleVector());
            int[] children = Arrays.stream(node.children()).map(c -> at(c)).toArray();
            nodes.add(Node.group(node.name(), other).withChildren(children));
        }
        Map<Role, Integer> from = new HashMap<>();
        body.roles().forEach((role, n) -> from.put(role, at(n)));
        Map<Integer, Integer> named = new HashMap<>();
        boolean[] joint = asset.jointFlags();
        for (int n : bones) {
            if (joint[n] && !body.roles().containsValue(n)) {
                named.put(n, at(n));
            }
        }
        return new Retargeting(asset.withNodes(nodes), from, body.roles(), named, body.ahead());
    }

    /** Joints that lead to the hips, and these. */
    private BitSet toHips() {
        BitSet out = new BitSet();
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        for (int n = Objects.requireNonNull(body.roles().get(Role.HIPS)); n >= 0 && joint[n]; n = parents[n]) {
            out.set(n);
        }
        return out;
    }

    /** Joints, and nodes that joints hang on. */
    private boolean[] leadsToJoints() {
        boolean[] out = asset.jointFlags();
        int[] parents = asset.parents();
        int[] order = asset.topDown();
        for (int i = order.length - 1; i >= 0; i--) {
            int up = parents[order[i]];
            if (up >= 0) {
                out[up] |= out[order[i]];
            }
        }
        return out;
    }

    private int at(int bone) {
        return Objects.requireNonNull(second.get(bone));
    }

    /** As {@link Retargeting#matched}. */
    public int matched() {
        return retargeting.matched();
    }

    /** As {@link Retargeting#ratio}. */
    public double ratio() {
        return retargeting.ratio();
    }

    /**
     * Keys of the body as it is here, with all that the clip does besides turning and moving joints.
     *
     * @param times of the keys
     * @param hold  whether feet that stand are held
     */
    public List<Channel> channels(float[] times, boolean hold, Work work) {
        List<Channel> moves = new ArrayList<>();
        List<Channel> stays = new ArrayList<>();
        boolean[] leads = leadsToJoints();
        boolean[] carries = BodyCarriers.of(asset, "");
        for (Channel c : clip.channels()) {
            boolean place = c.path() == Channel.Path.TRANSLATION || c.path() == Channel.Path.ROTATION;
            boolean moved = place && second.containsKey(c.node()) && leads[c.node()];
            if (moved) {
                moves.add(new Channel(at(c.node()), c.path(), c.track(), "", Passthrough.NONE));
            }
            // What shifts to and fro, such as a jaw, is no other length.
            if (!moved || isBone(c, carries) && !new BoneLengths(asset, c).isHeld()) {
                stays.add(c);
            }
        }
        if (moves.isEmpty()) {
            return stays;
        }
        List<Channel> out = new ArrayList<>(retargeting.channels(clip.withChannels(moves), times, hold, work));
        out.addAll(stays);
        return out;
    }
}
