package org.cleanmarrow.trial;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import org.cleanmarrow.model.Clip;

/**
 * When clips are looked at, for all who measure over them: densely, so that nothing passes unseen, or at a few frames that
 * stand for the whole.
 */
public final class Moments {
    /** Keys nearer than this, in seconds, are one instant: a jump that was baked is two keys as close as numbers go. */
    private static final double INSTANT = 2e-5;

    /** Between keys, at most this many seconds apart. */
    private static final double APART = 1 / 60.0;

    /** Keys closer than this are looked at once between; others at least three times, where a curve can bulge. */
    private static final double DENSE = 1 / 20.0;

    private static final int MOST_BETWEEN = 64;
    private static final int MOST = 40_000;

    private Moments() {}

    /**
     * So many frames of a clip at most, spread evenly from its first to its last, both among them; none where nothing moves.
     *
     * @param most at least 2
     */
    public static double[] frames(Clip clip, int most) {
        if (clip.channels().isEmpty()) {
            return new double[0];
        }
        int frames = (int) Math.max(0, Math.rint(clip.seconds() * clip.rate()));
        int count = Math.min(frames + 1, most);
        double[] out = new double[count];
        for (int i = 0; i < count; i++) {
            long frame = count == 1 ? 0 : Math.round((double) frames * i / (count - 1));
            out[i] = i == count - 1 ? clip.end() : clip.start() + frame / clip.rate();
        }
        return out;
    }

    /**
     * All keys of two clips, and between them close enough that nothing passes unseen: rising times in seconds on the time
     * line they share; at least one where either has a key.
     */
    public static double[] of(Clip a, Clip b) {
        TreeSet<Float> keys = a.keyTimes();
        keys.addAll(b.keyTimes());
        List<double[]> instants = new ArrayList<>();
        for (float key : keys) {
            double[] last = instants.isEmpty() ? null : instants.getLast();
            // Beyond two minutes neighbouring float32 numbers are further apart than that.
            if (last != null && key - last[1] <= Math.max(INSTANT, 2 * Math.ulp(key))) {
                last[1] = key;
            } else {
                instants.add(new double[] {key, key});
            }
        }
        List<Double> out = new ArrayList<>();
        double sparing = Math.max(1, instants.size() / (MOST / 4.0));
        for (int i = 0; i < instants.size(); i++) {
            double[] here = instants.get(i);
            if (here[0] == here[1]) {
                out.add(here[0]);
            } else {
                // On either side of a jump, not on it: there one side may have jumped and the other not.
                double aside = Math.max(INSTANT, 2 * Math.ulp((float) here[1]));
                out.add(here[0] - aside);
                out.add(here[1] + aside);
            }
            if (i + 1 < instants.size()) {
                between(here[1], instants.get(i + 1)[0], sparing, out);
            }
        }
        return out.stream().mapToDouble(Double::doubleValue).toArray();
    }

    private static void between(double from, double to, double sparing, List<Double> out) {
        double gap = to - from;
        int least = gap > DENSE ? 4 : 2;
        int pieces = (int) Math.clamp(Math.ceil(gap / (APART * sparing)), least, MOST_BETWEEN);
        for (int k = 1; k < pieces; k++) {
            out.add(from + gap * k / pieces);
        }
    }
}
