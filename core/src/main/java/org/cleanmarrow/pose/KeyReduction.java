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
 * and Peucker, The Canadian Cartographer 10, 1973). Costs n log n for most ways of n keys.
 */
public final class KeyReduction {
    /** Places between two keys of a cubic spline where it is looked at and may be keyed. */
    private static final int BETWEEN = 8;

    private final boolean rotation;
    private final int width;
    private final float[] times;
    private final double[] values;

    private KeyReduction(Sampler s, boolean rotation) {
        this.rotation = rotation;
        width = s.width();
        times = s.interpolation() == Sampler.Interpolation.CUBICSPLINE ? between(s.times()) : s.times();
        values = new double[times.length * width];
        double[] value = new double[width];
        for (int k = 0; k < times.length; k++) {
            if (rotation) {
                Keys.sampleRotation(s, times[k], value);
            } else {
                Keys.sample(s, times[k], value);
            }
            double dot = 0;
            for (int i = 0; i < width && rotation && k > 0; i++) {
                dot += value[i] * values[(k - 1) * width + i];
            }
            for (int i = 0; i < width; i++) {
                values[k * width + i] = dot < 0 ? -value[i] : value[i];
            }
        }
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
     * Steps stay steps, cubic splines become straight lines.
     *
     * @param tolerance in the values' own unit, radians for rotations; 0 keeps what cannot go without any change
     * @return keys at the first and the last time at least
     */
    public static Sampler of(Sampler s, boolean rotation, double tolerance) {
        boolean step = s.interpolation() == Sampler.Interpolation.STEP;
        KeyReduction of = new KeyReduction(s, rotation);
        BitSet kept = step ? of.steps(tolerance) : of.lines(tolerance);
        return of.keyed(kept, step ? s.interpolation() : Sampler.Interpolation.LINEAR);
    }

    private BitSet steps(double tolerance) {
        BitSet kept = new BitSet();
        kept.set(0);
        kept.set(times.length - 1);
        int last = 0;
        for (int k = 1; k < times.length; k++) {
            if (apart(last, last, 0, k) > tolerance) {
                kept.set(k);
                last = k;
            }
        }
        return kept;
    }

    private BitSet lines(double tolerance) {
        BitSet kept = new BitSet();
        kept.set(0);
        kept.set(times.length - 1);
        ArrayDeque<int[]> open = new ArrayDeque<>();
        open.push(new int[] {0, times.length - 1});
        while (!open.isEmpty()) {
            int[] piece = open.pop();
            int worst = -1;
            double most = tolerance;
            for (int k = piece[0] + 1; k < piece[1]; k++) {
                double share = ((double) times[k] - times[piece[0]]) / ((double) times[piece[1]] - times[piece[0]]);
                double off = apart(piece[0], piece[1], share, k);
                if (!(off <= most)) {
                    most = off;
                    worst = k;
                }
            }
            if (worst >= 0) {
                kept.set(worst);
                open.push(new int[] {piece[0], worst});
                open.push(new int[] {worst, piece[1]});
            }
        }
        return kept;
    }

    /** How far what lies at a share between two keys is from a third. */
    private double apart(int from, int to, double share, int is) {
        double a = 1 - share;
        double b = share;
        if (rotation && from != to) {
            double dot = 0;
            for (int i = 0; i < 4; i++) {
                dot += values[from * 4 + i] * values[to * 4 + i];
            }
            b = dot < 0 ? -b : b;
            double cosine = Math.min(1, Math.abs(dot));
            if (cosine < 1 - 1e-9) {
                double angle = Math.acos(cosine);
                a = Math.sin(angle * a) / Math.sin(angle);
                b = Math.sin(angle * b) / Math.sin(angle);
            }
        }
        double near = 0;
        double other = 0;
        for (int i = 0; i < width; i++) {
            double between = a * values[from * width + i] + b * values[to * width + i];
            double off = between - values[is * width + i];
            double turned = between + values[is * width + i];
            near += off * off;
            other += turned * turned;
        }
        if (!rotation) {
            return Math.sqrt(near);
        }
        // The chord between two unit quaternions is 2 sin of a quarter of the angle of the turn from one to the other.
        return 4 * Math.asin(Math.min(1, Math.sqrt(Math.min(near, other)) / 2));
    }

    private Sampler keyed(BitSet kept, Sampler.Interpolation kind) {
        float[] at = new float[kept.cardinality()];
        float[] out = new float[at.length * width];
        int n = 0;
        for (int k = kept.nextSetBit(0); k >= 0; k = kept.nextSetBit(k + 1)) {
            at[n] = times[k];
            for (int i = 0; i < width; i++) {
                out[n * width + i] = (float) values[k * width + i];
            }
            n++;
        }
        if (rotation && kind == Sampler.Interpolation.LINEAR) {
            Baker.alongTheShorterWay(out);
        }
        return new Sampler(kind, at, out, width, Storage.FLOAT);
    }
}
