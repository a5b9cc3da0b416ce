package org.cleanmarrow.edit;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Sampler;

/** How far a joint is from what it hangs on, in the keys of its translation and at rest, in the asset's unit. */
public final class BoneLengths {
    /** Shares of its length by which a bone is another, and within which it is held. */
    private static final double OTHER = 0.01;

    private static final double HELD = 0.001;

    private final double[] keyed;
    private final double rest;

    /** Of a channel of translations that moves a node. */
    public BoneLengths(Asset asset, Channel channel) {
        Sampler s = channel.sampler();
        float[] at = new float[3];
        keyed = IntStream.range(0, s.times().length)
                .mapToDouble(k -> {
                    s.at(k, at);
                    return Math.sqrt((double) at[0] * at[0] + (double) at[1] * at[1] + (double) at[2] * at[2]);
                })
                .toArray();
        rest = asset.nodes().get(channel.node()).local().translationVector().length();
    }

    public double rest() {
        return rest;
    }

    /** Whether the joint is held at another length than it rests at; what stretches and shrinks is meant to. */
    public boolean isOther() {
        return rest > 0 && Math.abs(keyed[0] - rest) > OTHER * rest && isHeld();
    }

    /** Whether it is as long in all keys. */
    public boolean isHeld() {
        return Arrays.stream(keyed).allMatch(l -> Math.abs(l - keyed[0]) <= HELD * keyed[0]);
    }

    /** The length in the middle of all keys. */
    public double middle() {
        double[] sorted = keyed.clone();
        Arrays.sort(sorted);
        return (sorted[(sorted.length - 1) / 2] + sorted[sorted.length / 2]) / 2;
    }

    /** How many times as long as in the middle of its keys it is at rest; 1 where either is no length. */
    public double factor() {
        double middle = middle();
        return rest > 0 && middle > 0 && Double.isFinite(rest / middle) ? rest / middle : 1;
    }
}
