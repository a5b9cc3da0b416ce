package org.cleanmarrow.steps.motion;

import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.KeyReduction;

/**
 * How far every channel of a clip may be off by itself, in metres, over time: straight between some moments, {@value #FRAMES} frames
 * apart or more.
 */
final class TimeShares {
    private static final double FRAMES = 4;
    /** So many moments, or more, lie in each stretch, so that every one is looked at even where only some are. */
    private static final int MOMENTS = 8;
    /** How much of what is missing is made up for in the first round, and how much less in each one after. */
    private static final double EAGER = 0.7;

    private static final double CALMER = 0.1;
    /** So many stretches beside those whose tolerance changed, keys may lie otherwise. */
    private static final int CARRIED = 3;

    private static final double MOST_NARROWER = 0.4;
    private static final double MOST_WIDER = 2.5;

    private final double start;
    private final double perSecond;
    private final double[] metres;

    private TimeShares(double start, double perSecond, double[] metres) {
        this.start = start;
        this.perSecond = perSecond;
        this.metres = metres;
    }

    /** @param moments at how many it is looked at */
    TimeShares(Clip clip, double metres, int moments) {
        double frames = Math.ceil(clip.seconds() * clip.rate() / FRAMES);
        int many = (int) Math.clamp(Math.min(frames, moments / MOMENTS), 1, 1 << 20);
        this(clip.start(), clip.seconds() > 0 ? many / clip.seconds() : 0, new double[many + 1]);
        Arrays.fill(this.metres, metres);
    }

    /** The same at all times. */
    static TimeShares always(double metres) {
        return new TimeShares(0, 0, new double[] {metres, metres});
    }

    private double place(double seconds) {
        return Math.clamp((seconds - start) * perSecond, 0, metres.length - 1);
    }

    /** Largest error on either side of each of the moments between which it is straight. */
    private double[] largest(double[] moments, double[] off) {
        double[] out = new double[metres.length];
        for (int i = 0; i < moments.length; i++) {
            int low = (int) Math.min(metres.length - 2, place(moments[i]));
            out[low] = Math.max(out[low], off[i]);
            out[low + 1] = Math.max(out[low + 1], off[i]);
        }
        return out;
    }

    /**
     * Widens where there is room and narrows where it is off too far.
     *
     * @param off   how far it was off at each of the moments
     * @param aim   how far it should be
     * @param round the later, the calmer
     */
    void adapt(double[] moments, double[] off, double aim, int round) {
        double[] largest = largest(moments, off);
        double power = EAGER - CALMER * round;
        for (int j = 0; j < metres.length; j++) {
            double ratio = Math.pow(aim / Math.max(1e-12, largest[j]), power);
            metres[j] *= Math.clamp(ratio, MOST_NARROWER, MOST_WIDER);
        }
    }

    /**
     * Narrows where it is off too far, and beside that, because keys beside it carry over: the longer it does not help, the more and
     * the wider.
     *
     * @param most  how far it may be off
     * @param round how often that was tried
     * @return numbers of the moments at which it may be off otherwise now
     */
    int[] narrow(double[] moments, double[] off, double most, double aim, int round) {
        double[] largest = largest(moments, off);
        double[] before = metres.clone();
        BitSet about = new BitSet();
        for (int j = 0; j < metres.length; j++) {
            if (largest[j] > most) {
                double least = Math.max(0.4, 0.85 - 0.05 * round);
                double here = Math.clamp(aim / largest[j], 0.3, least);
                metres[j] = Math.min(metres[j], before[j] * here);
                double beside = Math.max(here, 0.9 - 0.03 * round);
                int wide = 1 + round / 3;
                about.set(Math.max(0, j - wide - CARRIED), Math.min(metres.length, j + wide + CARRIED + 1));
                for (int near = 1; near <= wide; near++) {
                    int left = Math.max(0, j - near);
                    int right = Math.min(metres.length - 1, j + near);
                    metres[left] = Math.min(metres[left], before[left] * beside);
                    metres[right] = Math.min(metres[right], before[right] * beside);
                }
            }
        }
        return IntStream.range(0, moments.length)
                .filter(i -> about.get((int) place(moments[i])))
                .toArray();
    }

    /** As the tolerance of a channel of which so many metres come for a unit. */
    KeyReduction.Tolerance over(double metresPerUnit) {
        return new KeyReduction.Tolerance() {
            @Override
            public double at(double seconds) {
                return metresAt(place(seconds)) / metresPerUnit;
            }

            @Override
            public double least(double from, double to) {
                double first = place(from);
                double last = place(to);
                double least = Math.min(metresAt(first), metresAt(last));
                for (int j = (int) Math.ceil(first); j <= last; j++) {
                    least = Math.min(least, metres[j]);
                }
                return least / metresPerUnit;
            }
        };
    }

    private double metresAt(double place) {
        int low = (int) Math.min(metres.length - 2, place);
        return metres[low] + (place - low) * (metres[low + 1] - metres[low]);
    }
}
