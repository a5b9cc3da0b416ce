package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.MixUps;
import org.joml.Matrix3d;
import org.jspecify.annotations.Nullable;

/**
 * Finds how what came back from elsewhere differs from what it should lie on, vertex by vertex: the factor of a mistaken unit, a turn or
 * reflection of axes, and a shift in frames. All factors, all 48 turns and all shifts are compared by how far vertices are off over
 * all frames that both have; sums over pairs of frames are made once a shift, so that a guess costs nothing.
 *
 * <p>Cost: shifts x frames x {@link #POINTS}.
 */
public final class CacheFit {
    /** Vertices of a mesh that are compared, evenly spread over their order. */
    public static final int POINTS = 256;

    /** How much farther off another guess must lie for the nearest to be certain. */
    private static final double CLEAR = 1.1;

    /** The same for another shift alone: frames beside each other are alike. */
    private static final double CLEAR_SHIFT = 1.01;

    private static final double EXACT = 1e-6;

    /** All 48 turns and reflections that bring axes onto axes. */
    private static final List<Matrix3d> TURNS = turns();

    private CacheFit() {}

    /**
     * One way that it may be.
     *
     * @param factor that lengths must be multiplied by
     * @param turn   of the axes, to be applied to points; a reflection where handedness differs
     * @param shift  frames that it is late
     * @param off    root of the mean square, in the reference's lengths
     * @param shared frames that both have
     */
    public record Guess(double factor, Matrix3d turn, int shift, double off, int shared) {
        boolean alike(Guess o) {
            return factor == o.factor && turn.equals(o.turn, 1e-9) && shift == o.shift;
        }

        public boolean nothing() {
            return factor == 1 && shift == 0 && turn.equals(new Matrix3d(), 1e-9);
        }

        /** Where the x, y and z axes go, such as {@code x,z,-y}. */
        public String axes() {
            StringBuilder out = new StringBuilder();
            for (int column = 0; column < 3; column++) {
                for (int row = 0; row < 3; row++) {
                    double x = turn.get(column, row);
                    if (Math.abs(x) > 0.5) {
                        out.append(out.isEmpty() ? "" : ",")
                                .append(x < 0 ? "-" : "")
                                .append("xyz".charAt(row));
                    }
                }
            }
            return out.toString();
        }
    }

    /**
     * What was found.
     *
     * @param second the nearest that differs, where there is any
     * @param sure   whether that is clearly farther off
     */
    public record Found(Guess best, Optional<Guess> second, boolean sure) {}

    /**
     * What need not be found.
     *
     * @param factor 0: is found
     * @param turn   null: is found
     * @param shift  null: is found
     */
    public record Told(
            double factor,
            @Nullable Matrix3d turn,
            @Nullable Integer shift) {
        public static final Told NOTHING = new Told(0, null, null);
    }

    /**
     * Points in frames, one after the other.
     *
     * @param first number of the first frame
     * @param at    3 a point
     */
    public record Frames(int first, List<float[]> at) {
        int last() {
            return first + at.size() - 1;
        }
    }

    /** Numbers of the vertices that are compared. */
    public static int[] points(int vertices) {
        int many = Math.min(POINTS, vertices);
        return IntStream.range(0, many)
                .map(i -> (int) ((long) i * vertices / many))
                .toArray();
    }

    /**
     * @param came what came back, in the lengths and axes it came in
     * @param meant where the same points should be
     * @param size  of the thing, in the lengths of {@code meant}, more than 0
     * @param most  frames of shift to either side that are tried
     * @param told  what is known already
     */
    public static Optional<Found> find(Frames came, Frames meant, double size, int most, Told told) {
        List<Guess> all = new ArrayList<>();
        int enough = Math.max(1, Math.min(came.at.size(), meant.at.size()) / 2);
        for (int shift = told.shift == null ? -most : told.shift;
                shift <= (told.shift == null ? most : told.shift);
                shift++) {
            Sums sums = Sums.of(came, meant, shift);
            if (sums.frames >= (told.shift == null ? enough : 1)) {
                nearest(sums, shift, told, all);
            }
        }
        all.sort(Comparator.comparingDouble(Guess::off)
                .thenComparingInt(g -> g.turn.determinant() < 0 ? 1 : 0)
                .thenComparingInt(g -> Math.abs(g.shift)));
        if (all.isEmpty()) {
            return Optional.empty();
        }
        double exact = EXACT * size;
        Guess best = all.getFirst();
        // Among those that are as good, the one that changes least.
        for (Guess g : all) {
            if (g.off <= best.off + exact && simpler(g, best)) {
                best = g;
            }
        }
        Guess chosen = best;
        Optional<Guess> second = all.stream()
                .filter(g -> !g.alike(chosen) && !isReflection(chosen, g, exact))
                .min(Comparator.comparingDouble(g -> (g.off + exact)
                        / (g.factor == chosen.factor && g.turn.equals(chosen.turn, 1e-9) ? CLEAR_SHIFT : CLEAR)));
        boolean sure = second.map(g -> clear(chosen, g, exact)).orElse(true);
        return Optional.of(new Found(chosen, second, sure));
    }

    private static boolean clear(Guess best, Guess second, double exact) {
        boolean later = second.factor == best.factor && second.turn.equals(best.turn, 1e-9);
        return second.off > (later ? CLEAR_SHIFT : CLEAR) * best.off + exact;
    }

    /** What is flat and lies in a plane of the axes is its own reflection, which is no evidence for one. */
    private static boolean isReflection(Guess best, Guess other, double exact) {
        return other.turn.determinant() < 0
                && best.turn.determinant() > 0
                && other.shift == best.shift
                && other.factor == best.factor
                && other.off <= best.off + exact;
    }

    private static boolean simpler(Guess a, Guess b) {
        return cost(a) < cost(b);
    }

    private static int cost(Guess g) {
        boolean turned = !g.turn.equals(new Matrix3d(), 1e-9);
        return (g.turn.determinant() < 0 ? 4 : 0) + (turned ? 2 : 0) + (g.factor != 1 ? 1 : 0);
    }

    private static void nearest(Sums sums, int shift, Told told, List<Guess> out) {
        for (Matrix3d turn : told.turn == null ? TURNS : List.of(told.turn)) {
            double product = sums.product(turn);
            double factor = told.factor > 0 ? told.factor : factor(product / sums.came);
            double square = sums.meant - 2 * factor * product + factor * factor * sums.came;
            double off = Math.sqrt(Math.max(0, square) / sums.pairs);
            if (Double.isFinite(off)) {
                out.add(new Guess(factor, turn, shift, off, sums.frames));
            }
        }
    }

    /** The mix-up that comes nearest, or none. */
    private static double factor(double free) {
        double best = 1;
        for (MixUps.MixUp m : MixUps.ALL) {
            double factor = 1 / m.factor();
            if (Math.abs(Math.log(free / factor)) < Math.abs(Math.log(free / best))) {
                best = factor;
            }
        }
        return best;
    }

    private static List<Matrix3d> turns() {
        List<Matrix3d> out = new ArrayList<>();
        int[][] orders = {{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}};
        for (int[] order : orders) {
            for (int signs = 0; signs < 8; signs++) {
                Matrix3d m = new Matrix3d().zero();
                for (int column = 0; column < 3; column++) {
                    m.set(column, order[column], (signs >> column & 1) == 0 ? 1 : -1);
                }
                out.add(m);
            }
        }
        return out;
    }

    /** Sums over all pairs of one shift. */
    private record Sums(double[] product, double came, double meant, long pairs, int frames) {
        static Sums of(Frames came, Frames meant, int shift) {
            double[] k = new double[9];
            double cc = 0;
            double mm = 0;
            int frames = 0;
            long pairs = 0;
            for (int f = 0; f < came.at.size(); f++) {
                int there = came.first + f - shift - meant.first;
                if (there < 0 || there >= meant.at.size()) {
                    continue;
                }
                frames++;
                float[] c = came.at.get(f);
                float[] m = meant.at.get(there);
                pairs += c.length / 3;
                for (int i = 0; i < c.length; i += 3) {
                    for (int a = 0; a < 3; a++) {
                        cc += (double) c[i + a] * c[i + a];
                        mm += (double) m[i + a] * m[i + a];
                        for (int b = 0; b < 3; b++) {
                            k[3 * a + b] += (double) c[i + a] * m[i + b];
                        }
                    }
                }
            }
            return new Sums(k, cc, mm, pairs, frames);
        }

        /** Sum of the products of turned points with where they should be. */
        double product(Matrix3d turn) {
            double sum = 0;
            for (int a = 0; a < 3; a++) {
                for (int b = 0; b < 3; b++) {
                    sum += turn.get(a, b) * product[3 * a + b];
                }
            }
            return sum;
        }
    }
}
