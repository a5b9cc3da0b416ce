package org.cleanmarrow.model;

import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.WeakHashMap;

/**
 * A named animation.
 *
 * @param framesPerSecond as the file said; 0 where it did not, then {@link #rate()} infers it from the keys
 * @param loop            whether it is meant to play round
 * @param ships           false where it is left behind when the asset is delivered
 * @param tags            words that clips are found by, each once
 */
public record Clip(
        String name,
        List<Channel> channels,
        double framesPerSecond,
        boolean loop,
        boolean ships,
        List<String> tags,
        Passthrough carried)
        implements Refers<Clip> {
    /** Rates in use in the trade, the commonest first (common practice). */
    private static final double[] RATES = {30, 24, 60, 25, 48, 50, 120, 100, 15, 12, 90, 240, 30000 / 1001.0};

    /** By key times, which never change, what {@link #fitting} finds: long takes are asked for their rate at every frame. */
    private static final Map<float[], Integer> FITTING = Collections.synchronizedMap(new WeakHashMap<>());

    /** Without tags. */
    public Clip(
            String name,
            List<Channel> channels,
            double framesPerSecond,
            boolean loop,
            boolean ships,
            Passthrough carried) {
        this(name, channels, framesPerSecond, loop, ships, List.of(), carried);
    }

    /** First key of all channels in seconds; 0 for an empty clip. */
    public double start() {
        double first = Double.POSITIVE_INFINITY;
        for (Channel channel : channels) {
            first = Math.min(first, channel.track().times()[0]);
        }
        return channels.isEmpty() ? 0 : first;
    }

    /** Last key of all channels in seconds; 0 for an empty clip. */
    public double end() {
        double last = Double.NEGATIVE_INFINITY;
        for (Channel channel : channels) {
            float[] times = channel.track().times();
            last = Math.max(last, times[times.length - 1]);
        }
        return channels.isEmpty() ? 0 : last;
    }

    public double seconds() {
        return end() - start();
    }

    /** Frames per second: as stated, or the commonest rate on whose frames all keys fall, or 30. */
    public double rate() {
        if (framesPerSecond > 0) {
            return framesPerSecond;
        }
        int fitting = (1 << RATES.length) - 1;
        for (Channel channel : channels) {
            fitting &= FITTING.computeIfAbsent(channel.track().times(), Clip::fitting);
        }
        return fitting == 0 ? 30 : RATES[Integer.numberOfTrailingZeros(fitting)];
    }

    /** A bit for each of the rates on whose frames all times fall. */
    private static int fitting(float[] times) {
        int out = 0;
        for (int r = 0; r < RATES.length; r++) {
            boolean all = true;
            for (int k = 0; k < times.length && all; k++) {
                all = Math.abs(times[k] * RATES[r] - Math.rint(times[k] * RATES[r])) < 0.01;
            }
            out |= all ? 1 << r : 0;
        }
        return out;
    }

    public int firstFrame() {
        return (int) Math.rint(start() * rate());
    }

    public int lastFrame() {
        return (int) Math.rint(end() * rate());
    }

    /** All key times in rising order, each once. */
    public TreeSet<Float> keyTimes() {
        TreeSet<Float> times = new TreeSet<>();
        float[] last = null;
        for (Channel channel : channels) {
            if (channel.track().times() == last) {
                continue;
            }
            last = channel.track().times();
            for (float t : last) {
                times.add(t);
            }
        }
        return times;
    }

    /** Channels of what goes are left out. */
    @Override
    public Clip renumbered(Renumbering numbers) {
        return withChannels(channels.stream()
                .filter(c -> c.stays(numbers))
                .map(c -> c.renumbered(numbers))
                .toList());
    }

    public Clip withChannels(List<Channel> changed) {
        return new Clip(name, List.copyOf(changed), framesPerSecond, loop, ships, tags, carried);
    }

    public Clip withName(String newName) {
        return new Clip(newName, channels, framesPerSecond, loop, ships, tags, carried);
    }

    /** Keys of all channels together. */
    public long keyCount() {
        return channels.stream().mapToLong(c -> c.track().times().length).sum();
    }

    public Clip withRate(double rate) {
        return new Clip(name, channels, rate, loop, ships, tags, carried);
    }

    public Clip withLoop(boolean changed) {
        return new Clip(name, channels, framesPerSecond, changed, ships, tags, carried);
    }

    public Clip withShips(boolean changed) {
        return new Clip(name, channels, framesPerSecond, loop, changed, tags, carried);
    }

    public Clip withTags(List<String> changed) {
        return new Clip(name, channels, framesPerSecond, loop, ships, List.copyOf(changed), carried);
    }
}
