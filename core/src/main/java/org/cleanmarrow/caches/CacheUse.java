package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * A vertex cache where it plays: in a clip, at a node.
 *
 * @param clip    index
 * @param channel position in the clip
 */
public record CacheUse(int clip, int channel, int node, int mesh, VertexTrack track) {

    /** Every cache that plays at a node with a mesh, by clip. */
    public static List<CacheUse> all(Asset asset) {
        List<CacheUse> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            List<Channel> channels = asset.clips().get(c).channels();
            for (int i = 0; i < channels.size(); i++) {
                int node = channels.get(i).node();
                int mesh = node < 0 ? -1 : asset.nodes().get(node).mesh();
                if (channels.get(i).track() instanceof VertexTrack track && mesh >= 0) {
                    out.add(new CacheUse(c, i, node, mesh, track));
                }
            }
        }
        return out;
    }

    /** Those of one mesh. */
    public static List<CacheUse> of(Asset asset, int mesh) {
        return all(asset).stream().filter(u -> u.mesh == mesh).toList();
    }

    /** Whether it has a place for every vertex of its mesh; another is not played. */
    public boolean fits(Asset asset) {
        return asset.meshes().get(mesh).vertexCount() == track.vertices();
    }

    /**
     * The mesh at rest in the axes of its node, 3 numbers a vertex, as its skin has it: a mesh may be bound in another unit than
     * it is seen in, and frames are what is seen.
     */
    public float[] rest(Asset asset) {
        Mesh drawn = asset.meshes().get(mesh);
        if (!drawn.skinned() || asset.nodes().get(node).skin() < 0) {
            return MeshTopology.restPositions(drawn);
        }
        Deformer deformer = new Deformer(asset);
        Pose rest = new Rig(asset).rest();
        MeshPlace place = deformer.places().stream()
                .filter(p -> p.node() == node)
                .findFirst()
                .orElseThrow();
        float[] out = deformer.positions(place, rest);
        Matrix4d into = rest.world()[node].invert(new Matrix4d());
        Vector3d p = new Vector3d();
        for (int i = 0; i < out.length; i += 3) {
            into.transformPosition(p.set(out[i], out[i + 1], out[i + 2]));
            out[i] = (float) p.x;
            out[i + 1] = (float) p.y;
            out[i + 2] = (float) p.z;
        }
        return out;
    }

    /** Bytes of its frames as they are kept. */
    public long bytes() {
        return 3L * Float.BYTES * track.frames().vertices() * track.times().length;
    }

    /** The asset with another track, or another channel altogether, in its place. */
    public Asset replaced(Asset asset, List<Channel> by) {
        List<Clip> clips = new ArrayList<>(asset.clips());
        List<Channel> channels = new ArrayList<>(clips.get(clip).channels());
        channels.remove(channel);
        channels.addAll(channel, by);
        clips.set(clip, clips.get(clip).withChannels(channels));
        return asset.withClips(clips);
    }
}
