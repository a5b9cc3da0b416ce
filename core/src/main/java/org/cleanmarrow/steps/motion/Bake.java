package org.cleanmarrow.steps.motion;

import java.util.List;
import java.util.Objects;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.RestValues;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.measure.Levers;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Keys on every frame for everything a clip moves, from its first frame to its last, straight lines and even turns between
 * them. Where a curve bulges between frames it gets keys there too, so that the skin stays where it was by a millionth of its
 * size. Steps stay steps. Channels that only hold what is so at rest go; rotations never turn the long way round.
 */
@StepInfo(name = "bake", says = "Keys everything that a clip moves on every frame; what only holds the rest pose goes.")
public record Bake(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips) implements Step {
    private static final double NEAR = 1e-6;
    private static final float SAME = 1e-5f;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Levers levers = new Levers(asset);
        Pose rest = new Rig(asset).rest();
        double size = RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
        double near = NEAR * (Double.isFinite(size) && size > 0 ? size : 1);
        int[] went = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            float[] frames = Timing.frames(clip, clip.rate());
            List<Channel> channels = clip.channels().parallelStream()
                    .map(c -> holdsRest(asset, rest, c) ? null : baked(c, frames, near / levers.of(c)))
                    .filter(Objects::nonNull)
                    .toList();
            went[0] += clip.channels().size() - channels.size();
            if (channels.isEmpty()) {
                // A clip of rest alone stays one.
                channels = Stream.of(clip.channels().getFirst())
                        .map(c -> Timing.keyed(c, frames))
                        .toList();
            }
            return clip.withChannels(channels).withRate(clip.rate());
        });
        return change.count("channels.removed", went[0]);
    }

    private static boolean holdsRest(Asset asset, Pose rest, Channel channel) {
        float[] still = RestValues.of(asset, rest, channel);
        return still != null && Keys.holds(channel.sampler(), still);
    }

    private static Channel baked(Channel channel, float[] frames, double tolerance) {
        if (!(channel.track() instanceof Sampler s) || channel.node() < 0) {
            return channel;
        }
        boolean rotation = channel.path() == Channel.Path.ROTATION;
        boolean step = s.interpolation() == Sampler.Interpolation.STEP;
        TreeSet<Float> keys = new TreeSet<>();
        for (float t : frames) {
            keys.add(t);
        }
        float first = keys.first();
        float last = keys.last();
        for (float t : s.times()) {
            // The clip's own key stands for a frame that it misses by rounding alone.
            keys.subSet(t - SAME, true, t + SAME, true).clear();
            keys.add(t);
        }
        keys.add(first);
        keys.add(last);
        for (int first3 = 0; !step && first3 < (rotation ? 1 : s.width()); first3 += 3) {
            int from = first3;
            Baker.straighten(keys, t -> local(s, rotation, from, t), tolerance, 1);
        }
        float[] times = new float[keys.size()];
        int at = 0;
        for (float t : keys) {
            times[at++] = t;
        }
        return Timing.keyed(channel, times);
    }

    /** A rotation, or three numbers of a value from one on, in the place of a translation. */
    private static Local local(Sampler s, boolean rotation, int from, double seconds) {
        double[] v = new double[Math.max(from + 3, s.width())];
        if (rotation) {
            Keys.sampleRotation(s, seconds, v);
            return Local.of(new Vector3d(), new Quaterniond(v[0], v[1], v[2], v[3]), new Vector3d(1));
        }
        Keys.sample(s, seconds, v);
        return Local.of(new Vector3d(v[from], v[from + 1], v[from + 2]), new Quaterniond(), new Vector3d(1));
    }
}
