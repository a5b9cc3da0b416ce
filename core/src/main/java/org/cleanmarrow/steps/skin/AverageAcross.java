package org.cleanmarrow.steps.skin;

import java.util.Arrays;
import java.util.BitSet;
import java.util.PriorityQueue;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.MeshChoice;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * Evens weights out across a strap, belt or loop: along its length they stay as they run, across it every place gets the
 * mean of those beside it at the same length, so that the strap does not twist or fold. The length is measured over the
 * surface from the end that is furthest from the middle; the two arms of a loop are never mixed.
 */
@StepInfo(
        name = "average-across",
        formerly = "even-along",
        says = "Evens weights out across a strap or loop; along its length they stay.")
public record AverageAcross(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "the vertices of the strap") VertexSet vertices,

        @Parameter(
                says = "how far along the length counts as the same; 0: one and a half edges",
                fallback = "0.0",
                unit = "mm",
                least = 0)
        double reachMillimetres)
        implements Step {
    private static final double EDGES = 1.5;
    /** What is no further from the far end than so many edges is that end. */
    private static final double END = 2;
    /** What lies further apart than a joint can tell, as a share of the heaviest. */
    private static final double LEAST = 1e-4;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(reachMillimetres >= 0)) {
            throw new Refused("mirror.tolerance", reachMillimetres);
        }
        MeshChoice choice = new MeshChoice(asset, mesh, vertices, "");
        WeldedSurface surface = RestSurface.of(asset, choice.number);
        Influences rows = choice.places();
        BitSet places = WeldedWeights.places(choice.vertices, surface);
        double[] length = lengths(surface, places);
        double reach = reachMillimetres > 0
                ? reachMillimetres / 1000 / asset.conventions().metresPerUnit()
                : EDGES * edge(surface, places);
        Influences.Builder made = new Influences.Builder(surface.size());
        Row mean = new Row();
        Band band = new Band(surface, places, length);
        for (int p = 0; p < surface.size(); p++) {
            mean.clear();
            if (places.get(p)) {
                work.stopIfCancelled();
                band.around(p, reach);
                for (int i = 0; i < band.many; i++) {
                    int q = band.found[i];
                    mean.add(rows, q, 1 - Math.abs(length[q] - length[p]) / reach);
                }
                mean.normalise();
                mean.dropBelow(LEAST);
                mean.normalise();
            }
            mean.to(made);
        }
        Influences even = made.build();
        return choice.edited((row, v) -> {
            row.clear();
            row.load(even, surface.weldedOf(v));
            return row.size() > 0;
        });
    }

    /** Distance over the chosen surface from one whole end of each piece. */
    private static double[] lengths(WeldedSurface surface, BitSet places) {
        double[] out = filled(surface.size());
        double[] across = filled(surface.size());
        double[] along = filled(surface.size());
        double width = END * edge(surface, places);
        BitSet left = (BitSet) places.clone();
        for (int p = left.nextSetBit(0); p >= 0; p = left.nextSetBit(p)) {
            int[] piece = from(surface, places, new int[] {p}, across);
            int one = furthest(across, piece);
            forget(across, piece);
            from(surface, places, new int[] {one}, across);
            double whole = across[furthest(across, piece)];
            // A point would send round fronts along the strap; the end's whole width sends level ones.
            int[] end =
                    Arrays.stream(piece).filter(q -> across[q] >= whole - width).toArray();
            from(surface, places, end, along);
            for (int q : piece) {
                out[q] = along[q];
                left.clear(q);
            }
            forget(across, piece);
            forget(along, piece);
        }
        return out;
    }

    private static double[] filled(int size) {
        double[] out = new double[size];
        Arrays.fill(out, Double.POSITIVE_INFINITY);
        return out;
    }

    private static void forget(double[] distances, int[] piece) {
        for (int q : piece) {
            distances[q] = Double.POSITIVE_INFINITY;
        }
    }

    private static int furthest(double[] distances, int[] piece) {
        int best = piece[0];
        for (int q : piece) {
            best = distances[q] > distances[best] ? q : best;
        }
        return best;
    }

    /** Fills in distances over the surface, and gives the places that were reached, rising. */
    private static int[] from(WeldedSurface surface, BitSet places, int[] starts, double[] out) {
        IntStream.Builder reached = IntStream.builder();
        PriorityQueue<double[]> queue = new PriorityQueue<>((a, b) -> Double.compare(a[0], b[0]));
        for (int p : starts) {
            out[p] = 0;
            reached.add(p);
            queue.add(new double[] {0, p});
        }
        while (!queue.isEmpty()) {
            double[] next = queue.poll();
            int p = (int) next[1];
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1] && next[0] <= out[p]; e++) {
                int q = surface.neighbours()[e];
                double way = next[0] + distance(surface, p, q);
                if (places.get(q) && way < out[q]) {
                    if (out[q] == Double.POSITIVE_INFINITY) {
                        reached.add(q);
                    }
                    out[q] = way;
                    queue.add(new double[] {way, q});
                }
            }
        }
        return reached.build().sorted().toArray();
    }

    /** Places of about the same length that hang together with one; what is needed for it is made once. */
    private static final class Band {
        private final WeldedSurface surface;
        private final BitSet places;
        private final double[] length;
        private final int[] seenFrom;
        private final int[] found;
        private int many;

        Band(WeldedSurface surface, BitSet places, double[] length) {
            this.surface = surface;
            this.places = places;
            this.length = length;
            seenFrom = new int[surface.size()];
            Arrays.fill(seenFrom, -1);
            found = new int[surface.size()];
        }

        void around(int place, double reach) {
            many = 0;
            found[many++] = place;
            seenFrom[place] = place;
            for (int i = 0; i < many; i++) {
                for (int e = surface.starts()[found[i]]; e < surface.starts()[found[i] + 1]; e++) {
                    int q = surface.neighbours()[e];
                    if (places.get(q) && seenFrom[q] != place && Math.abs(length[q] - length[place]) < reach) {
                        seenFrom[q] = place;
                        found[many++] = q;
                    }
                }
            }
        }
    }

    private static double edge(WeldedSurface surface, BitSet places) {
        double sum = 0;
        long many = 0;
        for (int p = places.nextSetBit(0); p >= 0; p = places.nextSetBit(p + 1)) {
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                sum += distance(surface, p, surface.neighbours()[e]);
                many++;
            }
        }
        return many == 0 ? 1 : sum / many;
    }

    private static double distance(WeldedSurface surface, int p, int q) {
        float[] x = surface.positions();
        return Math.sqrt(square(x[p * 3] - x[q * 3])
                + square(x[p * 3 + 1] - x[q * 3 + 1])
                + square(x[p * 3 + 2] - x[q * 3 + 2]));
    }

    private static double square(double x) {
        return x * x;
    }
}
