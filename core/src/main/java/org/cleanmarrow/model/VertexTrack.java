package org.cleanmarrow.model;

import org.joml.Matrix4d;
import org.joml.Matrix4dc;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Where every vertex of the mesh at a node is, frame by frame, in the node's axes: a vertex cache. It plays in place of morph
 * targets and skin. Between frames vertices go straight.
 *
 * <p>Changes of axes, unit or pivot and of the order of vertices are kept beside the frames, never written into them, so a
 * step costs the same whatever the cache weighs. Reading a frame costs one pass over its vertices.
 *
 * @param times  seconds, rising, one a frame
 * @param change every point p of the frames is at {@code change} p; affine
 * @param order  for each vertex its number in the frames; null: the same number
 */
public record VertexTrack(float[] times, VertexFrames frames, Matrix4dc change, int @Nullable [] order)
        implements Track, Spatial<VertexTrack> {

    public VertexTrack {
        if (times.length == 0 || times.length > frames.count()) {
            throw new IllegalArgumentException(times.length + " times for " + frames.count() + " frames");
        }
        change = new Matrix4d(change);
    }

    public static VertexTrack of(float[] times, VertexFrames frames) {
        return new VertexTrack(times, frames, new Matrix4d(), null);
    }

    public int vertices() {
        return order == null ? frames.vertices() : order.length;
    }

    @Override
    public int width() {
        return 3 * vertices();
    }

    @Override
    public void at(int key, float[] out) {
        float[] raw = order == null ? out : new float[3 * frames.vertices()];
        frames.read(key, raw);
        Vector3d p = new Vector3d();
        for (int v = 0; v < vertices(); v++) {
            int from = 3 * (order == null ? v : order[v]);
            change.transformPosition(p.set(raw[from], raw[from + 1], raw[from + 2]));
            out[3 * v] = (float) p.x;
            out[3 * v + 1] = (float) p.y;
            out[3 * v + 2] = (float) p.z;
        }
    }

    /** Positions at a time on the clip's time line; before the first and after the last frame these hold. */
    public float[] positions(double seconds) {
        int next = 0;
        while (next < times.length && times[next] <= seconds) {
            next++;
        }
        float[] out = new float[width()];
        at(Math.max(0, next - 1), out);
        if (next == 0 || next == times.length || times[next - 1] == seconds) {
            return out;
        }
        float[] then = new float[out.length];
        at(next, then);
        double share = (seconds - times[next - 1]) / ((double) times[next] - times[next - 1]);
        for (int i = 0; i < out.length; i++) {
            out[i] = (float) (out[i] + share * ((double) then[i] - out[i]));
        }
        return out;
    }

    /** Its vertices in another order, with some twice or left out. @param numbers for each the one that it was */
    public VertexTrack ordered(int[] numbers) {
        int[] composed = numbers.clone();
        for (int v = 0; order != null && v < composed.length; v++) {
            composed[v] = order[composed[v]];
        }
        return new VertexTrack(times, frames, change, composed);
    }

    @Override
    public VertexTrack moved(Matrix4d by) {
        return new VertexTrack(times, frames, new Matrix4d(by).mul(change), order);
    }

    /** The same for a mesh whose vertices were numbered anew. */
    public VertexTrack ordered(VertexMap map) {
        if (map.from().length == vertices() && Renumbering.isCounting(map.from())) {
            return this;
        }
        int[] from = map.from().clone();
        for (int i = 0; order != null && i < from.length; i++) {
            from[i] = order[from[i]];
        }
        return new VertexTrack(times, frames, change, from);
    }
}
