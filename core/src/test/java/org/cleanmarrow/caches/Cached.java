package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** Small assets with caches, and where they are. */
final class Cached {
    static final double RATE = 24;

    private Cached() {}

    /** Boxes about their middles, eight vertices each, in one mesh. */
    static Primitive boxes(List<Vector3d> middles, double half) {
        float[] p = new float[24 * middles.size()];
        int[] corners = new int[36 * middles.size()];
        int[] one = {
            0, 2, 3, 0, 3, 1, 4, 5, 7, 4, 7, 6, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5
        };
        for (int b = 0; b < middles.size(); b++) {
            for (int v = 0; v < 8; v++) {
                p[24 * b + 3 * v] = (float) (middles.get(b).x + ((v & 1) * 2 - 1) * half);
                p[24 * b + 3 * v + 1] = (float) (middles.get(b).y + ((v >> 1 & 1) * 2 - 1) * half);
                p[24 * b + 3 * v + 2] = (float) (middles.get(b).z + ((v >> 2 & 1) * 2 - 1) * half);
            }
            for (int i = 0; i < 36; i++) {
                corners[36 * b + i] = one[i] + 8 * b;
            }
        }
        return Primitive.triangles(corners, p, null, -1);
    }

    /** A part with a cache in a clip of its own. */
    static Asset of(Primitive primitive, Local local, int frames, CacheBake.Frame made) {
        float[] times = new float[frames];
        for (int k = 0; k < frames; k++) {
            times[k] = (float) (k / RATE);
        }
        VertexTrack track = VertexTrack.of(times, CacheBake.frames(primitive.vertexCount(), frames, Work.QUIET, made));
        Channel channel = new Channel(0, Channel.Path.VERTICES, track, "", Passthrough.NONE);
        Clip clip = new Clip("sim", List.of(channel), RATE, false, true, List.of(), Passthrough.NONE);
        return Asset.of(
                "cached",
                Conventions.GLTF,
                List.of(Node.group("part", local).withMesh(0, -1)),
                List.of(Mesh.of("part", primitive)),
                List.of(),
                List.of(clip));
    }

    /** Every vertex of the only mesh in the world, frame by frame of a clip. */
    static List<float[]> places(Asset asset, int clip) {
        List<float[]> out = new ArrayList<>();
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        Clip played = asset.clips().get(clip);
        for (int f = played.firstFrame(); f <= played.lastFrame(); f++) {
            Pose pose = rig.at(played, Timing.seconds(played, f));
            float[] at = new float[3 * deformer.vertexCount(deformer.places().getFirst())];
            deformer.deform(deformer.places().getFirst(), pose, pose.world(), new Matrix4d(), at, null, false);
            out.add(at);
        }
        return out;
    }

    /** Largest distance between vertices of the same number. */
    static double off(float[] a, float[] b) {
        double most = 0;
        for (int i = 0; i < a.length; i += 3) {
            most = Math.max(most, Math.hypot(Math.hypot(a[i] - b[i], a[i + 1] - b[i + 1]), a[i + 2] - b[i + 2]));
        }
        return most;
    }
}
