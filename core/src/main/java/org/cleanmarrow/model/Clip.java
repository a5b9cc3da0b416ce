package org.cleanmarrow.model;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/**
 * A named animation.
 *
 * @param framesPerSecond as the file said; 0 where it did not, then {@link #rate()} infers it from the keys
 * @param loop            whether it is meant to play round
 * @param ships           false where it is left behind when the asset is delivered
 */
public record Clip(
        String name, List<Channel> channels, double framesPerSecond, boolean loop, boolean ships, Passthrough carried)
        implements Refers<Clip> {
    /** Rates in use in the trade, the commonest first (common practice). */
    private static final double[] RATES = {30, 24, 60, 25, 48, 50, 120, 100, 15, 12, 90, 240, 30000 / 1001.0};

    /** First key of all channels in seconds; 0 for an empty clip. */
    public double start() {
        return channels.stream().mapToDouble(c -> c.track().times()[0]).min().orElse(0);
    }

    /** Last key of all channels in seconds; 0 for an empty clip. */
    public double end() {
        return channels.stream()
                .mapToDouble(c -> c.track().times()[c.track().times().length - 1])
                .max()
                .orElse(0);
    }

    public double seconds() {
        return end() - start();
    }

    /** Frames per second: as stated, or the commonest rate on whose frames all keys fall, or 30. */
    public double rate() {
        if (framesPerSecond > 0) {
            return framesPerSecond;
        }
        Set<Float> times = keyTimes();
        for (double rate : RATES) {
            if (times.stream().allMatch(t -> Math.abs(t * rate - Math.rint(t * rate)) < 0.01)) {
                return rate;
            }
        }
        return 30;
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
        return new Clip(name, List.copyOf(changed), framesPerSecond, loop, ships, carried);
    }

    public Clip withName(String newName) {
        return new Clip(newName, channels, framesPerSecond, loop, ships, carried);
    }

    /** Keys of all channels together. */
    public long keyCount() {
        return channels.stream().mapToLong(c -> c.track().times().length).sum();
    }

    public Clip withRate(double rate) {
        return new Clip(name, channels, rate, loop, ships, carried);
    }

    public Clip withLoop(boolean changed) {
        return new Clip(name, channels, framesPerSecond, changed, ships, carried);
    }

    public Clip withShips(boolean changed) {
        return new Clip(name, channels, framesPerSecond, loop, changed, carried);
    }
}
