package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Weights for what is worn, with everything that a plain transfer must be told found from the shapes: how far is near, from
 * the distances; whether a lining faces the other way; which layer lies on the body, the other one moving with it; and how
 * far weights are spread, the farther from the body the wider, for what is far from it cannot follow its folds.
 */
public final class WornTransfer {
    private static final double NEAR_SHARE = 0.95;
    private static final double NEAR_MARGIN = 1.25;
    private static final double DEGREES = 60;
    /** Share of places facing the other way from which on a part is taken to have a lining. */
    private static final double LINED = 0.15;
    /** Layers lie no farther apart than this many times the middle of all thicknesses. */
    private static final double THICK = 3;
    /** How wide weights are spread, in distances from the body. */
    private static final double SPREAD = 1;

    private static final int ROUNDS = 24;

    /**
     * What came of it.
     *
     * @param below by place the one of the layer below it, nearer to the body; -1 for none
     */
    public record Result(Transfer.Result taken, int[] below) {}

    private WornTransfer() {}

    /**
     * @param reach  how far a point may be to be taken, in the unit of the positions; 0 to find it
     * @param joints how many joints the rows have
     * @return null where nothing matches
     */
    public static @Nullable Result run(
            WeldedSurface to, List<Transfer.Source> sources, double reach, int joints, Work work) {
        NearestSkin nearest = NearestSkin.of(to, sources, work);
        float[] far = nearest.distances();
        double near = reach > 0 ? reach : NEAR_MARGIN * quantile(far, NEAR_SHARE);
        double least = Math.cos(Math.toRadians(DEGREES));
        int same = 0;
        int either = 0;
        for (int p = 0; p < to.size(); p++) {
            same += nearest.fits(p, near, least, false) ? 1 : 0;
            either += nearest.fits(p, near, least, true) ? 1 : 0;
        }
        boolean lined = either - same > LINED * either;
        int[] below = lined ? layerBelow(to, far, work) : none(to.size());
        work.at(0.2, "");
        Transfer.Result plain = Transfer.of(
                to, nearest, p -> below[p] < 0 ? p : below[p], p -> nearest.fits(p, near, least, lined), joints, work);
        if (plain == null) {
            return null;
        }
        BitSet all = new BitSet();
        all.set(0, to.size());
        Influences spread = Smoothing.run(to, plain.rows(), all, spread(to, far), ROUNDS, new BitSet());
        return new Result(plain.withRows(spread), below);
    }

    /** How strongly a place is evened out a round, so that after all of them weights have spread as far as the body is. */
    private static Smoothing.Strength spread(WeldedSurface to, float[] far) {
        float[] at = to.positions();
        int[] starts = to.starts();
        int[] neighbours = to.neighbours();
        return p -> {
            double square = 0;
            int from = starts[p];
            int end = starts[p + 1];
            for (int e = from; e < end; e++) {
                square += square(at, p, neighbours[e]);
            }
            double edge = square / Math.max(1, end - from);
            double wanted = SPREAD * SPREAD * far[p] * far[p];
            return edge > 0 ? Math.min(1, wanted / (edge * ROUNDS)) : 0;
        };
    }

    private static double square(float[] at, int p, int q) {
        double x = at[p * 3] - at[q * 3];
        double y = at[p * 3 + 1] - at[q * 3 + 1];
        double z = at[p * 3 + 2] - at[q * 3 + 2];
        return x * x + y * y + z * z;
    }

    private static int[] none(int size) {
        int[] out = new int[size];
        Arrays.fill(out, -1);
        return out;
    }

    /** For every place the one of the layer beneath it, through the part, that is nearer to the body; -1 where there is none. */
    private static int[] layerBelow(WeldedSurface to, float[] far, Work work) {
        float[] at = to.positions();
        float[] normals = to.normals();
        int[] triangles = to.triangles();
        TriangleTree tree = new TriangleTree(triangles, at);
        int[] opposite = none(to.size());
        float[] through = new float[to.size()];
        Arrays.fill(through, Float.POSITIVE_INFINITY);
        IntStream.range(0, to.size()).parallel().forEach(p -> {
            if ((p & 1023) == 0) {
                work.stopIfCancelled();
            }
            float[] o = {at[p * 3], at[p * 3 + 1], at[p * 3 + 2]};
            float[] d = {-normals[p * 3], -normals[p * 3 + 1], -normals[p * 3 + 2]};
            TriangleTree.Hit hit =
                    d[0] == 0 && d[1] == 0 && d[2] == 0 ? null : tree.nearest(o, d, t -> apart(p, t, triangles));
            if (hit == null) {
                return;
            }
            double u = hit.u();
            double v = hit.v();
            int corner = u >= v && u >= 1 - u - v ? 1 : v >= 1 - u - v ? 2 : 0;
            int q = triangles[hit.triangle() * 3 + corner];
            double dot = 0;
            for (int k = 0; k < 3; k++) {
                dot += normals[p * 3 + k] * normals[q * 3 + k];
            }
            if (dot < -0.5) {
                opposite[p] = q;
                through[p] = hit.distance();
            }
        });
        double thick = THICK * quantile(through, 0.5);
        for (int p = 0; p < opposite.length; p++) {
            boolean follows = opposite[p] >= 0 && through[p] <= thick && far[opposite[p]] < far[p];
            opposite[p] = follows ? opposite[p] : -1;
        }
        return opposite;
    }

    private static boolean apart(int place, int triangle, int[] triangles) {
        return triangles[triangle * 3] != place
                && triangles[triangle * 3 + 1] != place
                && triangles[triangle * 3 + 2] != place;
    }

    /** Of those that are finite; 0 where none is. */
    private static double quantile(float[] values, double share) {
        float[] sorted = values.clone();
        Arrays.sort(sorted);
        int count = sorted.length;
        while (count > 0 && !Float.isFinite(sorted[count - 1])) {
            count--;
        }
        return count == 0 ? 0 : sorted[(int) Math.min(count - 1, share * count)];
    }
}
