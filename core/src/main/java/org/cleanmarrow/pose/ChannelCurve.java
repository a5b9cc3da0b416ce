package org.cleanmarrow.pose;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.joml.Quaterniond;

/**
 * How what moves a node goes over the time of a clip, number by number, to be drawn and read.
 *
 * <p>Translations are metres along the axes of the node's parent. Rotations are turns from rest, in degrees about the node's own
 * axes there: the vector along the axis of the turn that is as long as the turn is wide (Grassia, Journal of Graphics Tools 3(3),
 * 1998, section 2), which needs no order of axes and is carried on beyond half a turn. Scales and weights are as they are.
 *
 * @param seconds rising: even moments, and all keys
 * @param values  one row a number, over {@code seconds}
 * @param keys    seconds of the keys, rising
 * @param atKeys  one row a number, over {@code keys}
 */
public record ChannelCurve(Channel.Path path, double[] seconds, double[][] values, double[] keys, double[][] atKeys) {
    /**
     * What a clip does to a node.
     *
     * @param samples even moments over the whole clip, at least 2; keys are looked at besides
     * @return empty where no channel of keys moves that property of the node; of several the last, which wins
     */
    public static Optional<ChannelCurve> of(Asset asset, Clip clip, int node, Channel.Path path, int samples) {
        return clip.channels().stream()
                .filter(c -> c.node() == node && c.path() == path && c.track() instanceof Sampler)
                .reduce((one, other) -> other)
                .map(c -> of(asset, clip, c, samples));
    }

    private static ChannelCurve of(Asset asset, Clip clip, Channel channel, int samples) {
        Sampler s = channel.sampler();
        double[] keys = IntStream.range(0, s.times().length)
                .mapToDouble(k -> s.times()[k])
                .toArray();
        DoubleStream even =
                IntStream.range(0, samples).mapToDouble(i -> clip.start() + clip.seconds() * i / (samples - 1));
        // Just before a step it is still as it was.
        DoubleStream before = s.interpolation() == Sampler.Interpolation.STEP
                ? Arrays.stream(keys).skip(1).map(k -> Math.nextDown((float) k))
                : DoubleStream.empty();
        double[] seconds = DoubleStream.concat(DoubleStream.concat(even, before), Arrays.stream(keys))
                .sorted()
                .distinct()
                .toArray();
        double[][] values = values(asset, channel, seconds);
        double[][] atKeys = new double[values.length][keys.length];
        for (int k = 0; k < keys.length; k++) {
            int at = Arrays.binarySearch(seconds, keys[k]);
            for (int i = 0; i < values.length; i++) {
                atKeys[i][k] = values[i][at];
            }
        }
        return new ChannelCurve(channel.path(), seconds, values, keys, atKeys);
    }

    private static double[][] values(Asset asset, Channel channel, double[] seconds) {
        Sampler s = channel.sampler();
        boolean turns = channel.path() == Channel.Path.ROTATION;
        double unit =
                channel.path() == Channel.Path.TRANSLATION ? asset.conventions().metresPerUnit() : 1;
        Quaterniond rest = asset.nodes().get(channel.node()).local().rotationQuaternion();
        double[][] out = new double[turns ? 3 : s.width()][seconds.length];
        double[] value = new double[s.width()];
        double[] last = new double[3];
        for (int k = 0; k < seconds.length; k++) {
            if (turns) {
                Keys.sampleRotation(s, seconds[k], value);
                turn(new Quaterniond(rest).conjugate().mul(value[0], value[1], value[2], value[3]), last);
            } else {
                Keys.sample(s, seconds[k], value);
            }
            for (int i = 0; i < out.length; i++) {
                out[i][k] = turns ? Math.toDegrees(last[i]) : value[i] * unit;
            }
        }
        return out;
    }

    /** The turn's vector, in radians: of all that are this turn the one nearest to the last. */
    private static void turn(Quaterniond q, double[] last) {
        double sine = Math.sqrt(q.x * q.x + q.y * q.y + q.z * q.z);
        double length = Math.sqrt(last[0] * last[0] + last[1] * last[1] + last[2] * last[2]);
        double x;
        double y;
        double z;
        if (sine > 1e-9) {
            x = q.x / sine;
            y = q.y / sine;
            z = q.z / sine;
        } else if (length > 1e-9) {
            x = last[0] / length;
            y = last[1] / length;
            z = last[2] / length;
        } else {
            Arrays.fill(last, 0);
            return;
        }
        double angle = 2 * Math.atan2(sine, q.w);
        double along = x * last[0] + y * last[1] + z * last[2];
        angle += 2 * Math.PI * Math.rint((along - angle) / (2 * Math.PI));
        last[0] = x * angle;
        last[1] = y * angle;
        last[2] = z * angle;
    }
}
