package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.joml.Matrix4d;

/** Where single nodes are in a clip; unlike {@link Rig#at} it looks at those asked for and no others. For many threads. */
public final class NodeMotion {
    private final Asset asset;
    private final int[] parents;
    private final Channel[][] channels;

    public NodeMotion(Asset asset, Clip clip) {
        this.asset = asset;
        parents = asset.parents();
        channels = new Channel[asset.nodes().size()][];
        for (Channel channel : clip.channels()) {
            int part = channel.path().ordinal();
            if (channel.node() >= 0 && part <= Channel.Path.SCALE.ordinal()) {
                if (channels[channel.node()] == null) {
                    channels[channel.node()] = new Channel[3];
                }
                channels[channel.node()][part] = channel;
            }
        }
    }

    /** True where the clip moves the node itself. */
    public boolean moves(int node) {
        return channels[node] != null && asset.nodes().get(node).local().matrix() == null;
    }

    /** True where the clip takes the node away from rest; channels that only hold it there do not. */
    public boolean leavesRest(int node) {
        Local rest = asset.nodes().get(node).local();
        return moves(node)
                && channels(node).stream()
                        .anyMatch(c -> !Keys.holds(
                                c.sampler(),
                                switch (c.path()) {
                                    case TRANSLATION -> rest.translation();
                                    case ROTATION -> rest.rotation();
                                    default -> rest.scale();
                                }));
    }

    /** Channels of translation, rotation and scale of a node. */
    public List<Channel> channels(int node) {
        List<Channel> out = new ArrayList<>();
        for (int part = 0; channels[node] != null && part < 3; part++) {
            if (channels[node][part] != null) {
                out.add(channels[node][part]);
            }
        }
        return out;
    }

    /** Transform against the parent at a time. */
    public Matrix4d local(int node, double seconds) {
        Local rest = asset.nodes().get(node).local();
        if (!moves(node)) {
            return rest.toMatrix();
        }
        double[] t = part(node, Channel.Path.TRANSLATION, rest.translation(), seconds);
        double[] q = part(node, Channel.Path.ROTATION, rest.rotation(), seconds);
        double[] s = part(node, Channel.Path.SCALE, rest.scale(), seconds);
        return new Matrix4d().translationRotateScale(t[0], t[1], t[2], q[0], q[1], q[2], q[3], s[0], s[1], s[2]);
    }

    private double[] part(int node, Channel.Path path, float[] rest, double seconds) {
        Channel channel = channels[node][path.ordinal()];
        double[] out = new double[rest.length];
        if (channel == null) {
            for (int i = 0; i < out.length; i++) {
                out[i] = rest[i];
            }
        } else if (path == Channel.Path.ROTATION) {
            Keys.sampleRotation(channel.sampler(), seconds, out);
        } else {
            Keys.sample(channel.sampler(), seconds, out);
        }
        return out;
    }

    /** Transform in the world at a time. */
    public Matrix4d world(int node, double seconds) {
        Matrix4d out = local(node, seconds);
        for (int up = parents[node]; up >= 0; up = parents[up]) {
            out.mulLocal(local(up, seconds));
        }
        return out;
    }
}
