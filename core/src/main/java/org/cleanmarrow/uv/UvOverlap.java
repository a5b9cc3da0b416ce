package org.cleanmarrow.uv;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.cleanmarrow.work.Work;

/**
 * Triangles of one material that lie over each other in the picture, so that what is painted on one shows on the other. Those
 * that share an edge do not; nor does what is thinner than a millionth of the picture. As they lie: what repeats beyond the
 * picture's edge is not wound back into it. A sweep along u, in stripes of v: time grows with how many
 * lie in one place.
 *
 * @param partly  triangles that lie partly over another
 * @param stacked triangles that have the very place of another, as mirrored halves on purpose have
 */
public record UvOverlap(BitSet partly, BitSet stacked) {
    private static final double THINNEST = 1e-6;

    private record Place(int material, float a, float b, float c, float d, float e, float f) {}

    public static UvOverlap of(UvLayout layout, Work work) {
        BitSet stacked = new BitSet();
        Map<Integer, List<Integer>> byMaterial = new HashMap<>();
        Map<Place, Integer> first = new HashMap<>();
        Map<Integer, List<Integer>> copies = new HashMap<>();
        for (int t = 0; t < layout.triangleCount(); t++) {
            if (Math.abs(layout.twiceArea(t)) < THINNEST * THINNEST) {
                continue;
            }
            Integer same = first.putIfAbsent(place(layout, t), t);
            if (same == null) {
                byMaterial
                        .computeIfAbsent(layout.materialOf(t), m -> new ArrayList<>())
                        .add(t);
            } else {
                stacked.set(same);
                stacked.set(t);
                copies.computeIfAbsent(same, s -> new ArrayList<>()).add(t);
            }
        }
        BitSet partly = new BitSet();
        byMaterial.values().forEach(some -> sweep(layout, some, partly, work));
        // What lies over one of those on the same place lies over all of them.
        copies.forEach((one, others) -> {
            if (partly.get(one)) {
                others.forEach(partly::set);
            }
        });
        return new UvOverlap(partly, stacked);
    }

    /** Corners from the least on, so that copies are alike whichever corner they begin with and whichever way they turn. */
    private static Place place(UvLayout layout, int t) {
        float[] uv = layout.uv();
        int[] order = {layout.corners()[3 * t], layout.corners()[3 * t + 1], layout.corners()[3 * t + 2]};
        for (int i = 0; i < 2; i++) {
            for (int j = 0; j < 2 - i; j++) {
                int by = Float.compare(uv[2 * order[j]], uv[2 * order[j + 1]]);
                by = by != 0 ? by : Float.compare(uv[2 * order[j] + 1], uv[2 * order[j + 1] + 1]);
                if (by > 0) {
                    int swap = order[j];
                    order[j] = order[j + 1];
                    order[j + 1] = swap;
                }
            }
        }
        return new Place(
                layout.materialOf(t),
                uv[2 * order[0]],
                uv[2 * order[0] + 1],
                uv[2 * order[1]],
                uv[2 * order[1] + 1],
                uv[2 * order[2]],
                uv[2 * order[2] + 1]);
    }

    private static void sweep(UvLayout layout, List<Integer> some, BitSet found, Work work) {
        int n = some.size();
        double[][] at = new double[n][];
        double[] least = new double[n];
        double[] most = new double[n];
        double[] top = new double[n];
        double[] bottom = new double[n];
        for (int i = 0; i < n; i++) {
            at[i] = corners(layout, some.get(i));
            least[i] = Math.min(at[i][0], Math.min(at[i][2], at[i][4]));
            most[i] = Math.max(at[i][0], Math.max(at[i][2], at[i][4]));
            top[i] = Math.min(at[i][1], Math.min(at[i][3], at[i][5]));
            bottom[i] = Math.max(at[i][1], Math.max(at[i][3], at[i][5]));
        }
        Integer[] order = IntStream.range(0, n).boxed().toArray(Integer[]::new);
        Arrays.sort(order, (x, y) -> Double.compare(least[x], least[y]));
        Stripes stripes = Stripes.of(top, bottom);
        int[][] open = new int[stripes.many()][16];
        int[] many = new int[stripes.many()];
        for (int step = 0; step < n; step++) {
            if (step % 1000 == 0) {
                work.stopIfCancelled();
            }
            int i = order[step];
            for (int s = stripes.of(top[i]); s <= stripes.of(bottom[i]); s++) {
                int kept = 0;
                for (int k = 0; k < many[s]; k++) {
                    int j = open[s][k];
                    if (most[j] <= least[i]) {
                        continue;
                    }
                    open[s][kept++] = j;
                    boolean apart = bottom[j] <= top[i] || bottom[i] <= top[j];
                    boolean known = found.get(some.get(i)) && found.get(some.get(j));
                    if (!apart && !known && overlap(at[i], at[j])) {
                        found.set(some.get(i));
                        found.set(some.get(j));
                    }
                }
                open[s] = kept == open[s].length ? Arrays.copyOf(open[s], 2 * kept) : open[s];
                open[s][kept] = i;
                many[s] = kept + 1;
            }
        }
    }

    /** Equal stripes across v, as many as leave most triangles in few of them. */
    private record Stripes(double first, double height, int many) {
        private static final int MOST_EACH = 4;

        static Stripes of(double[] top, double[] bottom) {
            double first = Arrays.stream(top).min().orElse(0);
            double last = Arrays.stream(bottom).max().orElse(1);
            for (int many = Math.max(1, (int) Math.sqrt(top.length)); ; many /= 2) {
                Stripes stripes = new Stripes(first, Math.max((last - first) / many, 1e-12), many);
                long each = IntStream.range(0, top.length)
                        .mapToLong(i -> 1L + stripes.of(bottom[i]) - stripes.of(top[i]))
                        .sum();
                if (many == 1 || each <= (long) MOST_EACH * top.length) {
                    return stripes;
                }
            }
        }

        int of(double v) {
            return Math.clamp((long) ((v - first) / height), 0, many - 1);
        }
    }

    private static double[] corners(UvLayout layout, int t) {
        double[] out = new double[6];
        for (int i = 0; i < 3; i++) {
            int v = layout.corners()[3 * t + i];
            out[2 * i] = layout.uv()[2 * v];
            out[2 * i + 1] = layout.uv()[2 * v + 1];
        }
        return out;
    }

    /** Whether no edge of either has the other wholly on its outer side. */
    private static boolean overlap(double[] a, double[] b) {
        return !apart(a, b) && !apart(b, a);
    }

    private static boolean apart(double[] a, double[] b) {
        for (int i = 0; i < 3; i++) {
            int j = (i + 1) % 3;
            double nx = a[2 * j + 1] - a[2 * i + 1];
            double ny = a[2 * i] - a[2 * j];
            double length = Math.sqrt(nx * nx + ny * ny);
            double own = side(a, (i + 2) % 3, i, nx, ny);
            double sign = own < 0 ? -1 : 1;
            double nearest = Double.NEGATIVE_INFINITY;
            for (int k = 0; k < 3; k++) {
                nearest = Math.max(nearest, sign * ((b[2 * k] - a[2 * i]) * nx + (b[2 * k + 1] - a[2 * i + 1]) * ny));
            }
            if (nearest <= THINNEST * length) {
                return true;
            }
        }
        return false;
    }

    private static double side(double[] a, int corner, int from, double nx, double ny) {
        return (a[2 * corner] - a[2 * from]) * nx + (a[2 * corner + 1] - a[2 * from + 1]) * ny;
    }
}
