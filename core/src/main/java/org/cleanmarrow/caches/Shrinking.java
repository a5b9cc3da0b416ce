package org.cleanmarrow.caches;

import java.util.Comparator;
import java.util.Random;
import java.util.stream.IntStream;
import org.joml.Vector3d;

/**
 * When each of some pieces begins to shrink and how large it is at any time: from whole to nothing, all together, or one after the
 * other by where they are.
 *
 * @param begins seconds, one a piece
 * @param lasts  seconds, more than 0, of every piece
 */
public record Shrinking(double[] begins, double lasts, Ease ease) {
    /** What decides who comes first. */
    public enum Order {
        TOGETHER,
        /** From the top down. */
        HEIGHT,
        /** From the middle of all outwards. */
        DISTANCE,
        RANDOM
    }

    /** How size falls. */
    public enum Ease {
        LINEAR,
        /** Slow at both ends: 3t² - 2t³. */
        SMOOTH
    }

    /**
     * @param middles of the pieces in the world
     * @param up      the world's, of unit length
     * @param from    seconds at which the first piece is whole for the last time
     * @param to      seconds at which the last is gone
     * @param spread  0: all begin at once; towards 1: each lasts a smaller share of the whole time
     */
    public static Shrinking of(
            Vector3d[] middles, Vector3d up, Order order, long seed, double from, double to, double spread, Ease ease) {
        int n = middles.length;
        double lasts = (to - from) * (order == Order.TOGETHER || n < 2 ? 1 : 1 - spread);
        double[] begins = new double[n];
        int[] ranked = ranked(middles, up, order, seed);
        for (int r = 0; r < n; r++) {
            begins[ranked[r]] = n < 2 ? from : from + (to - from - lasts) * r / (n - 1);
        }
        return new Shrinking(begins, lasts, ease);
    }

    private static int[] ranked(Vector3d[] middles, Vector3d up, Order order, long seed) {
        Vector3d centre = new Vector3d();
        for (Vector3d m : middles) {
            centre.add(m.x / middles.length, m.y / middles.length, m.z / middles.length);
        }
        Random random = new Random(seed);
        double[] by = new double[middles.length];
        for (int i = 0; i < by.length; i++) {
            by[i] = switch (order) {
                case TOGETHER -> 0;
                case HEIGHT -> -middles[i].dot(up);
                case DISTANCE -> middles[i].distance(centre);
                case RANDOM -> random.nextDouble();
            };
        }
        return IntStream.range(0, by.length)
                .boxed()
                .sorted(Comparator.<Integer>comparingDouble(i -> by[i]).thenComparingInt(i -> i))
                .mapToInt(Integer::intValue)
                .toArray();
    }

    /** Size of a piece at a time, 1 to 0. */
    public double at(int piece, double seconds) {
        double t = Math.clamp((seconds - begins[piece]) / lasts, 0, 1);
        return 1 - (ease == Ease.LINEAR ? t : t * t * (3 - 2 * t));
    }
}
