package org.cleanmarrow.simulation;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** What free bodies did, as keys of their nodes. */
public final class BodyKeys {
    private BodyKeys() {}

    /**
     * A clip in which bodies stand as they did, and all else as in another.
     *
     * @param source what moved the rest; null: nothing
     * @param times  one a frame, rising
     * @param nodes  of free bodies
     * @param frames for each of the times the transforms of these nodes and those next above them, in the asset's world and unit
     */
    public static Clip clip(
            Asset asset,
            @Nullable Clip source,
            String name,
            double rate,
            float[] times,
            List<Integer> nodes,
            List<Map<Integer, Matrix4d>> frames) {
        Set<Integer> moved = new HashSet<>(nodes);
        List<Channel> channels = new ArrayList<>(source == null ? List.of() : source.channels());
        channels.removeIf(c -> moved.contains(c.node())
                && (c.path() == Channel.Path.TRANSLATION || c.path() == Channel.Path.ROTATION));
        int[] parents = asset.parents();
        for (int n : nodes) {
            channels.addAll(keys(asset, parents[n], n, times, frames));
        }
        return new Clip(name, channels, rate, false, true, List.of(), Passthrough.NONE);
    }

    /** Place and turn of a body's node against its parent, a key a frame. */
    private static List<Channel> keys(
            Asset asset, int parent, int n, float[] times, List<Map<Integer, Matrix4d>> frames) {
        float[] places = new float[3 * times.length];
        float[] turns = new float[4 * times.length];
        Quaterniond last = new Quaterniond();
        Vector3d scale = new Vector3d();
        float[] rest = asset.nodes().get(n).local().scale();
        for (int k = 0; k < times.length; k++) {
            Map<Integer, Matrix4d> frame = frames.get(k);
            Matrix4d local = new Matrix4d(Objects.requireNonNull(frame.get(n)));
            if (parent >= 0) {
                Objects.requireNonNull(frame.get(parent)).invert(new Matrix4d()).mul(local, local);
            }
            places[3 * k] = (float) local.m30();
            places[3 * k + 1] = (float) local.m31();
            places[3 * k + 2] = (float) local.m32();
            // A node that mirrors keeps its mirroring in its scale.
            local.getScale(scale);
            local.scale(Math.signum(rest[0]) / scale.x, Math.signum(rest[1]) / scale.y, Math.signum(rest[2]) / scale.z);
            Quaterniond turn = local.getNormalizedRotation(new Quaterniond());
            if (k > 0 && turn.dot(last) < 0) {
                turn.mul(-1);
            }
            last.set(turn);
            turns[4 * k] = (float) turn.x;
            turns[4 * k + 1] = (float) turn.y;
            turns[4 * k + 2] = (float) turn.z;
            turns[4 * k + 3] = (float) turn.w;
        }
        Sampler place = new Sampler(Sampler.Interpolation.LINEAR, times, places, 3, Storage.FLOAT);
        Sampler turn = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
        return List.of(
                new Channel(n, Channel.Path.TRANSLATION, place, "", Passthrough.NONE),
                new Channel(n, Channel.Path.ROTATION, turn, "", Passthrough.NONE));
    }
}
