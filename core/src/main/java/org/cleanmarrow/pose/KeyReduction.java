package org.cleanmarrow.pose;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.jspecify.annotations.Nullable;

/**
 * Fewer keys for a way, straight or evenly turned between them or as cubic splines, nowhere off by more than a tolerance.
 *
 * <p>From the first and the last key on, a key is put where the way is off most, until none is off (greedy insertion; Douglas
 * and Peucker, The Canadian Cartographer 10, 1973). Which key divides a piece does not depend on the tolerance, so how far the way
 * is off without each is found once, as far as tolerances ask, and each asks only which keys are above it. Costs n log n for most ways
 * of n keys, and then n a tolerance.
 *
 * <p>A cubic spline has the tangents between two of its keys with which it comes nearest to the way there, by least squares, looked at
 * between the old keys too. Each goes as far as the tolerance lets it, sought by doubling and halving: n log n a tolerance. Not for several
 * threads at a time.
 */
public final class KeyReduction {
    /** Places between two keys of a cubic spline where it is looked at and may be keyed. */
    private static final int BETWEEN = 8;
    /** A turn that is taken to a spline is looked at so often that it turns by no more than this, in radians, from time to time. */
    private static final double TURN = Math.toRadians(4);
    /** Times a way is looked at, where it has not more keys than half of them: so that a long one does not fill the memory. */
    private static final int MOST_TIMES = 200_000;
    /** Ties the tangents to the straight way where nothing lies between two keys that would say otherwise. */
    private static final double TIE = 1e-9;

    private final boolean step;
    private final boolean spline;
    /** Keys of splines lie at every so many of the times. */
    private final int apart;

    private final boolean rotation;
    private final int width;
    private final float[] times;
    private final float[] values;
    /** How far the way is off without each key that divides a piece so far; 0 for the others. */
    private final float[] needed;
    /** By the key that a piece begins with: the key where the way is off most, and how far. */
    private final int[] worst;

    private final float[] off;
    /** The values, rotations written so that each is near the one before; null until that is asked. */
    private float @Nullable [] aligned;

    /** Of a way, to straight ones; steps stay steps, cubic splines become straight lines. */
    public KeyReduction(Sampler s, boolean rotation) {
        this(s, rotation, false);
    }

    /** @param spline to cubic splines in place of straight lines; steps stay steps */
    public KeyReduction(Sampler s, boolean rotation, boolean spline) {
        this.rotation = rotation;
        step = s.interpolation() == Sampler.Interpolation.STEP;
        this.spline = spline && !step;
        width = s.width();
        boolean cubic = s.interpolation() == Sampler.Interpolation.CUBICSPLINE;
        int places = cubic ? BETWEEN : this.spline ? places(s) : 1;
        times = places == 1 ? s.times() : between(s.times(), places);
        // Where two keys are too near for anything between them, keys may lie anywhere.
        apart = !cubic && times.length == (s.times().length - 1) * places + 1 ? places : 1;
        values = places > 1 || s.storage() != Storage.FLOAT ? sampled(s) : s.values();
        if (this.spline && rotation) {
            Baker.alongTheShorterWay(values);
        }
        int ordered = step || this.spline ? 0 : times.length;
        needed = new float[ordered];
        worst = new int[ordered];
        off = new float[ordered];
        if (ordered > 0) {
            needed[0] = Float.POSITIVE_INFINITY;
            needed[ordered - 1] = Float.POSITIVE_INFINITY;
            look(0, ordered - 1);
        }
    }

    /** At how many places between two keys a straight way is looked at that is taken to a spline. */
    private int places(Sampler s) {
        double most = 0;
        double[] a = new double[width];
        double[] b = new double[width];
        for (int k = 0; rotation && k < s.times().length; k++) {
            Keys.sampleRotation(s, s.times()[k], b);
            double dot = Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);
            most = Math.max(most, k == 0 ? 0 : 2 * Math.acos(Math.min(1, dot)));
            System.arraycopy(b, 0, a, 0, 4);
        }
        return Math.max(2, Math.min(MOST_TIMES / s.times().length, (int) Math.ceil(most / TURN)));
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

    private static float[] between(float[] keys, int places) {
        float[] out = new float[(keys.length - 1) * places + 1];
        int many = 0;
        for (int k = 0; k + 1 < keys.length; k++) {
            for (int i = 0; i < places; i++) {
                float t = keys[k] + (keys[k + 1] - keys[k]) * i / places;
                if (many == 0 || t > out[many - 1]) {
                    out[many++] = t;
                }
            }
        }
        out[many++] = keys[keys.length - 1];
        return Arrays.copyOf(out, many);
    }

    /** How far the way may be off, in the values' own unit, radians for rotations; 0 keeps what cannot go without any change. */
    public interface Tolerance {
        double at(double seconds);

        /** The least that it is from one time to another. */
        double least(double from, double to);

        /** The same at all times. */
        static Tolerance of(double always) {
            return new Tolerance() {
                @Override
                public double at(double seconds) {
                    return always;
                }

                @Override
                public double least(double from, double to) {
                    return always;
                }
            };
        }
    }

    /**
     * The way with fewer keys, each where the way was.
     *
     * @return keys at the first and the last time at least
     */
    public Sampler at(double tolerance) {
        return at(Tolerance.of(tolerance));
    }

    private Sampler at(Tolerance tolerance) {
        return keyed(spline ? splines(tolerance) : step ? steps(tolerance) : lines(tolerance));
    }

    /**
     * The same keys; those of straight ways, but for the first and the last, lie where the way between them comes nearest to all that
     * it stands for. On a bend the way lies to both sides of it then, where it would cut the corner: off by less, though not below the
     * tolerance at every single time.
     */
    public Sampler nearest(Tolerance tolerance) {
        if (spline || step) {
            return at(tolerance);
        }
        BitSet kept = lines(tolerance);
        int[] keys = kept.stream().toArray();
        if (keys.length == 2 || keys.length == times.length) {
            return keyed(kept);
        }
        if (aligned == null) {
            aligned = values.clone();
            if (rotation) {
                Baker.alongTheShorterWay(aligned);
            }
        }
        float[] at = new float[keys.length];
        for (int n = 0; n < keys.length; n++) {
            at[n] = times[keys[n]];
        }
        float[] out = NearestKeys.of(times, aligned, width, rotation, keys);
        for (float value : out) {
            if (!Float.isFinite(value)) {
                return keyed(kept);
            }
        }
        return new Sampler(Sampler.Interpolation.LINEAR, at, out, width, Storage.FLOAT);
    }

    private BitSet lines(Tolerance tolerance) {
        order(tolerance);
        BitSet kept = new BitSet(times.length);
        for (int k = 0; k < times.length; k++) {
            if (needed[k] > 0 && needed[k] > tolerance.at(times[k])) {
                kept.set(k);
            }
        }
        return kept;
    }

    /** From each key as far as it goes (straight ways gain nothing by it: what is off less in sum is off more in one). */
    private BitSet splines(Tolerance tolerance) {
        BitSet kept = new BitSet();
        kept.set(0);
        int last = (times.length - 1) / apart;
        for (int from = 0; from < last; ) {
            int fits = from + 1;
            int beyond = last + 1;
            for (int more = 1; fits < last && beyond > last; more *= 2) {
                int to = Math.min(last, fits + more);
                if (fits(from * apart, to * apart, tolerance)) {
                    fits = to;
                } else {
                    beyond = to;
                }
            }
            while (beyond <= last && beyond - fits > 1) {
                int middle = (fits + beyond) >>> 1;
                if (fits(from * apart, middle * apart, tolerance)) {
                    fits = middle;
                } else {
                    beyond = middle;
                }
            }
            kept.set(fits * apart);
            from = fits;
        }
        return kept;
    }

    private boolean fits(int from, int to, Tolerance tolerance) {
        Piece piece = piece(from, to);
        for (int k = from + 1; k < to; k++) {
            if (!(piece.off(k) <= tolerance.at(times[k]))) {
                return false;
            }
        }
        return true;
    }

    private BitSet steps(Tolerance tolerance) {
        BitSet kept = new BitSet();
        kept.set(0);
        kept.set(times.length - 1);
        int last = 0;
        for (int k = 1; k < times.length; k++) {
            double off = rotation ? angle(chord(last, k)) : Math.sqrt(chord(last, k));
            if (!(off <= tolerance.at(times[k]))) {
                kept.set(k);
                last = k;
            }
        }
        return kept;
    }

    /** Square of how far two keys are apart, whichever way round a rotation is written. */
    private double chord(int one, int other) {
        return new Straight(one, one).chord(other, 1, 0);
    }

    /** Divides all pieces that are off by more than they may be. */
    private void order(Tolerance tolerance) {
        ArrayDeque<int[]> open = new ArrayDeque<>();
        int from = 0;
        for (int k = 1; k < times.length; k++) {
            if (needed[k] > 0) {
                open.push(new int[] {from, k});
                from = k;
                while (!open.isEmpty()) {
                    int[] ends = open.pop();
                    if (!(off[ends[0]] <= tolerance.least(times[ends[0]], times[ends[1]]))) {
                        divide(ends[0], ends[1], open);
                    }
                }
            }
        }
    }

    private void divide(int from, int to, ArrayDeque<int[]> open) {
        int middle = worst[from];
        // What divides a piece is not needed more than what made the piece.
        float most = Math.min(needed[from], needed[to]);
        needed[middle] = Float.isNaN(off[from]) ? most : Math.min(most, off[from]);
        look(from, middle);
        look(middle, to);
        open.push(new int[] {from, middle});
        open.push(new int[] {middle, to});
    }

    private void look(int from, int to) {
        Piece piece = piece(from, to);
        worst[from] = piece.worst();
        off[from] = worst[from] < 0 ? 0 : (float) piece.off(worst[from]);
    }

    private Piece piece(int from, int to) {
        return spline ? new Curved(from, to) : new Straight(from, to);
    }

    /** The way from one key to another that is in place of all between. */
    private abstract class Piece {
        final int from;
        final int to;

        private final double start;
        private final double perSecond;

        Piece(int from, int to) {
            this.from = from;
            this.to = to;
            start = times[from];
            perSecond = 1 / (times[to] - start);
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
        abstract double chord(int k);

        double share(int k) {
            return (times[k] - start) * perSecond;
        }
    }

    /** The straight way, or the even turn. */
    private final class Straight extends Piece {
        private final double[] first = new double[width];
        private final double[] last = new double[width];
        private final EvenWay way;

        Straight(int from, int to) {
            super(from, to);
            double dot = 0;
            for (int i = 0; i < width; i++) {
                first[i] = values[from * width + i];
                last[i] = values[to * width + i];
                dot += first[i] * last[i];
            }
            if (rotation && dot < 0) {
                for (int i = 0; i < width; i++) {
                    last[i] = -last[i];
                }
            }
            way = rotation ? EvenWay.turn(Math.abs(dot)) : EvenWay.STRAIGHT;
        }

        @Override
        double chord(int k) {
            double share = share(k);
            return chord(k, way.ofFirst(share), way.ofLast(share));
        }

        /** Square of the distance from so much of both ends to a key. */
        double chord(int k, double a, double b) {
            int at = k * width;
            if (rotation) {
                double x = a * first[0] + b * last[0];
                double y = a * first[1] + b * last[1];
                double z = a * first[2] + b * last[2];
                double w = a * first[3] + b * last[3];
                double dot = x * values[at] + y * values[at + 1] + z * values[at + 2] + w * values[at + 3];
                double sign = dot < 0 ? -1 : 1;
                x -= sign * values[at];
                y -= sign * values[at + 1];
                z -= sign * values[at + 2];
                w -= sign * values[at + 3];
                return x * x + y * y + z * z + w * w;
            }
            double sum = 0;
            for (int i = 0; i < width; i++) {
                double off = a * first[i] + b * last[i] - values[at + i];
                sum += off * off;
            }
            return sum;
        }
    }

    /** A cubic spline as glTF 2.0 has it, appendix C; the tangents times the span. */
    private final class Curved extends Piece {
        private final double[] out = new double[width];
        private final double[] in = new double[width];

        Curved(int from, int to) {
            super(from, to);
            double aa = TIE;
            double ab = 0;
            double bb = TIE;
            double[] a = new double[width];
            double[] b = new double[width];
            for (int i = 0; i < width; i++) {
                a[i] = TIE * (value(to, i) - value(from, i));
                b[i] = a[i];
            }
            for (int k = from + 1; k < to; k++) {
                double u = share(k);
                double h = u * (1 - u) * (1 - u);
                double g = u * u * (u - 1);
                double end = u * u * (3 - 2 * u);
                aa += h * h;
                ab += h * g;
                bb += g * g;
                for (int i = 0; i < width; i++) {
                    double left = value(k, i) - (1 - end) * value(from, i) - end * value(to, i);
                    a[i] += h * left;
                    b[i] += g * left;
                }
            }
            double det = aa * bb - ab * ab;
            for (int i = 0; i < width; i++) {
                out[i] = (a[i] * bb - b[i] * ab) / det;
                in[i] = (b[i] * aa - a[i] * ab) / det;
            }
        }

        private double value(int k, int i) {
            return values[k * width + i];
        }

        @Override
        double chord(int k) {
            double u = share(k);
            double h = u * (1 - u) * (1 - u);
            double g = u * u * (u - 1);
            double end = u * u * (3 - 2 * u);
            double square = 0;
            double dot = 0;
            double off = 0;
            double length = 0;
            for (int i = 0; i < width; i++) {
                double at = (1 - end) * value(from, i) + h * out[i] + end * value(to, i) + g * in[i];
                square += at * at;
                dot += at * value(k, i);
                length += (double) value(k, i) * value(k, i);
                off += (at - value(k, i)) * (at - value(k, i));
            }
            // A turn is made unit when it is played.
            return rotation ? Math.max(0, 2 - 2 * Math.abs(dot) / Math.sqrt(square * length)) : off;
        }
    }

    /** The chord between two unit quaternions is 2 sin of a quarter of the angle of the turn from one to the other. */
    private static double angle(double chord) {
        return 4 * Math.asin(Math.min(1, Math.sqrt(chord) / 2));
    }

    private Sampler keyed(BitSet kept) {
        int[] keys = kept.stream().toArray();
        float[] at = new float[keys.length];
        int parts = spline ? 3 : 1;
        float[] out = new float[keys.length * width * parts];
        for (int n = 0; n < keys.length; n++) {
            at[n] = times[keys[n]];
            System.arraycopy(values, keys[n] * width, out, (n * parts + parts / 2) * width, width);
            if (spline && n > 0) {
                Curved piece = new Curved(keys[n - 1], keys[n]);
                double span = (double) at[n] - at[n - 1];
                for (int i = 0; i < width; i++) {
                    out[((n - 1) * 3 + 2) * width + i] = (float) (piece.out[i] / span);
                    out[n * 3 * width + i] = (float) (piece.in[i] / span);
                }
            }
        }
        if (rotation && !step && !spline) {
            Baker.alongTheShorterWay(out);
        }
        Sampler.Interpolation kind = step
                ? Sampler.Interpolation.STEP
                : spline ? Sampler.Interpolation.CUBICSPLINE : Sampler.Interpolation.LINEAR;
        return new Sampler(kind, at, out, width, Storage.FLOAT);
    }
}
