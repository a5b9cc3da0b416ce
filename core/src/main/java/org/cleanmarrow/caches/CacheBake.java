package org.cleanmarrow.caches;

import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.nio.ByteOrder;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.VertexFrames;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/** Makes vertex caches: of clips, and of frames that are made one by one. Frames lie where {@link FrameRoom} has it. */
public final class CacheBake {
    private static final ValueLayout.OfFloat NUMBER =
            ValueLayout.JAVA_FLOAT_UNALIGNED.withOrder(ByteOrder.LITTLE_ENDIAN);

    private static final long MOST_BYTES = 8L << 30;

    private CacheBake() {}

    /**
     * Bytes of a cache.
     *
     * @throws Refused where they are more than are made
     */
    public static long bytes(int vertices, int frames, int places) throws Refused {
        long bytes = 12L * vertices * frames * places;
        if (bytes > MOST_BYTES) {
            throw new Refused("cache.large", bytes >> 20, MOST_BYTES >> 20);
        }
        return bytes;
    }

    /** Makes one frame. */
    @FunctionalInterface
    public interface Frame {
        /** @param out gets the places of all vertices, 3 each */
        void put(int frame, float[] out);
    }

    /**
     * Frames made one after the other.
     *
     * @param vertices at least 1
     * @param count    at least 1
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static VertexFrames frames(int vertices, int count, Work work, Frame made) {
        float[] one = new float[3 * vertices];
        MemorySegment all = FrameRoom.of((long) Float.BYTES * one.length * count);
        for (int k = 0; k < count; k++) {
            work.stopIfCancelled();
            work.at(k / (double) count, "");
            made.put(k, one);
            MemorySegment.copy(one, 0, all, NUMBER, (long) Float.BYTES * one.length * k, one.length);
        }
        return new VertexFrames(all, vertices);
    }

    /**
     * What a clip makes of a mesh at a node, in the axes that the node has at rest: the cache in a clip of its own shows what the
     * clip showed.
     *
     * @param seconds one a frame, rising
     */
    public static VertexTrack of(Asset asset, MeshPlace place, Clip clip, float[] seconds, Work work) {
        Rig rig = new Rig(asset);
        Deformer deformer = new Deformer(asset);
        Matrix4d back = rig.rest().world()[place.node()].invert();
        VertexFrames frames = frames(deformer.vertexCount(place), seconds.length, work, (k, out) -> {
            Pose pose = rig.at(clip, seconds[k]);
            deformer.deform(place, pose, pose.world(), back, out, null, true);
        });
        return VertexTrack.of(seconds, frames);
    }
}
