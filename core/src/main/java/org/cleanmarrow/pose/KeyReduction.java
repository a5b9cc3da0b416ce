package org.cleanmarrow.pose;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;

/**
 * Fewer keys for a way, straight or evenly turned between them, nowhere off by more than a tolerance.
 *
 * <p>From the first and the last key on, a key is put where the way is off most, until none is off (greedy insertion; Douglas
 * and Peucker, The Canadian Cartographer 10, 1973). Which key divides a piece does not depend on the tolerance, so how far the way
 * is off without each is found once, and any tolerance asks only which keys are above it. Costs n log n for most ways of n keys,
 * and then n a tolerance. Not for several threads at a time.
 */
public final class KeyReduction {
    /** Places between two keys of a cubic spline where it is looked at and may be keyed. */
    private static final int BETWEEN = 8;
    /** How much finer than what is asked the keys are put in order, so that the next that is asked is known. */
    private static final double FINER = 8;

    private final boolean step;
    private final boolean rotation;
    private final int width;
    private final float[] times;
    private final float[] values;
    /** How far the way is off without each key, as far as that is above {@link #finest}. */
    private final float[] needed;

    private double finest = Double.POSITIVE_INFINITY;

    /** Of a way; steps stay steps, cubic splines become straight lines. */
    public KeyReduction(Sampler s, boolean rotation) {
        this.rotation = rotation;
        step = s.interpolation() == Sampler.Interpolation.STEP;
        width = s.width();
        boolean cubic = s.interpolation() == Sampler.Interpolation.CUBICSPLINE;
        times = cubic ? between(s.times()) : s.times();
        values = cubic || s.storage() != Storage.FLOAT ? sampled(s) : s.values();
        needed = new float[step ? 0 : times.length];
    }

    private float[] sampled(Sampler s) {
        float[] out = new float[times.length * width];
        double[] value = new double[width];
        for (int k = 0; k < times.length; k++) {
            if (rotation) {
                Keys.sampleRotation(s, times[k], value);
            } else {
                Keys.sample(s, times[k], value);
            }
            for (int i = 0; i < width; i++) {
                out[k * width + i] = (float) value[i];
            }
        }
        return out;
    }

    private static float[] between(float[] keys) {
        float[] out = new float[(keys.length - 1) * BETWEEN + 1];
        int many = 0;
        for (int k = 0; k + 1 < keys.length; k++) {
            for (int i = 0; i < BETWEEN; i++) {
                float t = keys[k] + (keys[k + 1] - keys[k]) * i / BETWEEN;
                if (many == 0 || t > out[many - 1]) {
                    out[many++] = t;
                }
            }
        }
        out[many++] = keys[keys.length - 1];
        return Arrays.copyOf(out, many);
    }

    /**
     * The way with fewer keys.
     *
     * @param tolerance in the values' own unit, radians for rotations; 0 keeps what cannot go without any change
     * @return keys at the first and the last time at least
     */
    public Sampler at(double tolerance) {
        BitSet kept = step ? steps(tolerance) : new BitSet();
        if (!step) {
            if (tolerance < finest) {
                order(tolerance / FINER);
            }
            kept.set(0);
            kept.set(times.length - 1);
            for (int k = 1; k < times.length - 1; k++) {
                if (needed[k] > tolerance) {
                    kept.set(k);
                }
            }
        }
        return keyed(kept);
    }

    private BitSet steps(double tolerance) {
        BitSet kept = new BitSet();
        kept.set(0);
        kept.set(times.length - 1);
        int last = 0;
        for (int k = 1; k < times.length; k++) {
            double off = rotation ? angle(chord(last, k)) : Math.sqrt(chord(last, k));
            if (!(off <= tolerance)) {
                kept.set(k);
                last = k;
            }
        }
        return kept;
    }

    /** Square of how far two keys are apart, whichever way round a rotation is written. */
    private double chord(int one, int other) {
        return new Piece(one, one).chord(other, 1, 0);
    }

    private void order(double to) {
        finest = to;
        Arrays.fill(needed, 0);
        ArrayDeque<int[]> open = new ArrayDeque<>();
        ArrayDeque<Float> above = new ArrayDeque<>();
        open.push(new int[] {0, times.length - 1});
        above.push(Float.POSITIVE_INFINITY);
        while (!open.isEmpty()) {
            int[] ends = open.pop();
            float most = above.pop();
            Piece piece = new Piece(ends[0], ends[1]);
            int worst = piece.worst();
            double off = worst < 0 ? 0 : piece.off(worst);
            if (!(off <= to)) {
                // What divides a piece is not needed more than what made the piece.
                needed[worst] = Double.isNaN(off) ? most : (float) Math.min(most, off);
                open.push(new int[] {ends[0], worst});
                above.push(needed[worst]);
                open.push(new int[] {worst, ends[1]});
                above.push(needed[worst]);
            }
        }
    }

    /** The straight way, or the even turn, from one key to another. */
    private final class Piece {
        private final int from;
        private final int to;
        private final double angle;
        private final double sine;
        private final double sign;

        Piece(int from, int to) {
            this.from = from;
            this.to = to;
            double dot = 0;
            for (int i = 0; rotation && i < 4; i++) {
                dot += (double) values[from * 4 + i] * values[to * 4 + i];
            }
            sign = dot < 0 ? -1 : 1;
            double cosine = Math.min(1, Math.abs(dot));
            angle = rotation && cosine < 1 - 1e-9 ? Math.acos(cosine) : 0;
            sine = Math.sin(angle);
        }

        /** The key that lies furthest from it; -1 where none lies between. */
        int worst() {
            int worst = -1;
            double most = -1;
            for (int k = from + 1; k < to; k++) {
                double off = chord(k);
                if (!(off <= most)) {
                    most = off;
                    worst = k;
                }
            }
            return worst;
        }

        double off(int k) {
            return rotation ? angle(chord(k)) : Math.sqrt(chord(k));
        }

        /** Square of the distance from where it is at a key's time to the key. */
        private double chord(int k) {
            double share = ((double) times[k] - times[from]) / ((double) times[to] - times[from]);
            double a = angle == 0 ? 1 - share : Math.sin(angle * (1 - share)) / sine;
            double b = angle == 0 ? share : Math.sin(angle * share) / sine;
            return chord(k, a, b * sign);
        }

        /** Square of the distance from so much of both ends to a key. */
        double chord(int is, double a, double b) {
            double near = 0;
            double other = 0;
            for (int i = 0; i < width; i++) {
                double between = a * values[from * width + i] + b * values[to * width + i];
                double off = between - values[is * width + i];
                double turned = between + values[is * width + i];
                near += off * off;
                other += turned * turned;
            }
            return rotation ? Math.min(near, other) : near;
        }
    }

    /** The chord between two unit quaternions is 2 sin of a quarter of the angle of the turn from one to the other. */
    private static double angle(double chord) {
        return 4 * Math.asin(Math.min(1, Math.sqrt(chord) / 2));
    }

    private Sampler keyed(BitSet kept) {
        float[] at = new float[kept.cardinality()];
        float[] out = new float[at.length * width];
        int n = 0;
        for (int k = kept.nextSetBit(0); k >= 0; k = kept.nextSetBit(k + 1)) {
            at[n] = times[k];
            System.arraycopy(values, k * width, out, n * width, width);
            n++;
        }
        if (rotation && !step) {
            Baker.alongTheShorterWay(out);
        }
        Sampler.Interpolation kind = step ? Sampler.Interpolation.STEP : Sampler.Interpolation.LINEAR;
        return new Sampler(kind, at, out, width, Storage.FLOAT);
    }
}
