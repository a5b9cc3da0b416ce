package org.cleanmarrow.pose;

import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.VertexTrack;
import org.jspecify.annotations.Nullable;

/** An asset's hierarchy made ready for posing: order and parents are found once, poses are then cheap. */
public final class Rig {
    private final Asset asset;
    private final int[] order;
    private final int[] parents;
    private final Pose rest;

    public Rig(Asset asset) {
        this.asset = asset;
        this.order = asset.topDown();
        this.parents = asset.parents();
        rest = made();
    }

    public Asset asset() {
        return asset;
    }

    int[] order() {
        return order;
    }

    int[] parents() {
        return parents;
    }

    /** The pose that the nodes themselves hold. */
    public Pose rest() {
        return new Pose(rest);
    }

    private Pose made() {
        List<Node> nodes = asset.nodes();
        Pose pose = new Pose(this, nodes.size());
        for (int n = 0; n < nodes.size(); n++) {
            Local local = nodes.get(n).local();
            for (int i = 0; i < 3; i++) {
                pose.translations[n * 3 + i] = local.translation()[i];
                pose.scales[n * 3 + i] = local.scale()[i];
            }
            for (int i = 0; i < 4; i++) {
                pose.rotations[n * 4 + i] = local.rotation()[i];
            }
            pose.morphs[n] = restMorph(nodes.get(n));
        }
        return pose;
    }

    private double @Nullable [] restMorph(Node node) {
        if (node.mesh() < 0) {
            return null;
        }
        int count = asset.meshes().get(node.mesh()).targetCount();
        if (count == 0) {
            return null;
        }
        double[] weights = new double[count];
        float[] given = node.weights() != null
                ? node.weights()
                : asset.meshes().get(node.mesh()).weights();
        for (int i = 0; given != null && i < Math.min(count, given.length); i++) {
            weights[i] = given[i];
        }
        return weights;
    }

    /** A cache of another number of vertices than the mesh has is not played. */
    private @Nullable VertexTrack fitting(int node, VertexTrack cache) {
        int mesh = asset.nodes().get(node).mesh();
        return mesh >= 0 && asset.meshes().get(mesh).vertexCount() == cache.vertices() ? cache : null;
    }

    /**
     * The pose of a clip at a time; nodes that the clip does not move stay at rest.
     *
     * @param seconds on the clip's own time line
     */
    public Pose at(Clip clip, double seconds) {
        Pose pose = rest();
        pose.seconds = seconds;
        double[] value = new double[4];
        for (Channel channel : clip.channels()) {
            int n = channel.node();
            if (n < 0 || n >= asset.nodes().size()) {
                continue;
            }
            switch (channel.path()) {
                case TRANSLATION -> {
                    Keys.sample(channel.sampler(), seconds, value);
                    System.arraycopy(value, 0, pose.translations, n * 3, 3);
                }
                case SCALE -> {
                    Keys.sample(channel.sampler(), seconds, value);
                    System.arraycopy(value, 0, pose.scales, n * 3, 3);
                }
                case ROTATION -> {
                    Keys.sampleRotation(channel.sampler(), seconds, value);
                    System.arraycopy(value, 0, pose.rotations, n * 4, 4);
                }
                case WEIGHTS -> {
                    double[] morph = pose.morphs[n];
                    if (morph != null && morph.length == channel.sampler().width()) {
                        Keys.sample(channel.sampler(), seconds, morph);
                    }
                }
                case VERTICES -> pose.caches[n] = fitting(n, (VertexTrack) channel.track());
                case POINTER -> {}
            }
        }
        return pose;
    }
}
