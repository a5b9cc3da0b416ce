package org.cleanmarrow.steps;

import java.util.ArrayDeque;
import java.util.BitSet;
import java.util.PriorityQueue;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Influences;
import org.cleanmarrow.geometry.WeldedSurface;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.weights.PlaceWeights;
import org.cleanmarrow.weights.RestSurface;
import org.cleanmarrow.weights.Row;

/**
 * Evens weights out across a strap, belt or loop: along its length they stay as they run, across it every place gets the
 * mean of those beside it at the same length, so that the strap does not twist or fold. The length is measured over the
 * surface from the end that is furthest from the middle; the two arms of a loop are never mixed.
 */
@StepInfo(name = "even-along", says = "Evens weights out across a strap or loop; along its length they stay.")
public record EvenAlong(
        @Parameter(says = "name of the skinned mesh") String mesh,
        @Parameter(says = "the vertices of the strap") VertexSet vertices,

        @Parameter(
                says = "how far along the length counts as the same, in millimetres; 0: one and a half edges",
                fallback = "0.0")
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
        BitSet places = PlaceWeights.places(choice.vertices, surface);
        double[] length = lengths(surface, places);
        double reach = reachMillimetres > 0
                ? reachMillimetres / 1000 / asset.conventions().metresPerUnit()
                : EDGES * edge(surface, places);
        Influences.Builder made = new Influences.Builder(surface.size());
        Row mean = new Row();
        for (int p = 0; p < surface.size(); p++) {
            mean.clear();
            if (places.get(p)) {
                work.stopIfCancelled();
                BitSet band = band(surface, places, length, p, reach);
                for (int q = band.nextSetBit(0); q >= 0; q = band.nextSetBit(q + 1)) {
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
            row.load(even, surface.placeOf(v));
            return row.size() > 0;
        });
    }

    /** Distance over the chosen surface from one whole end of each piece. */
    private static double[] lengths(WeldedSurface surface, BitSet places) {
        double[] out = new double[surface.size()];
        java.util.Arrays.fill(out, Double.POSITIVE_INFINITY);
        double width = END * edge(surface, places);
        BitSet left = (BitSet) places.clone();
        for (int p = left.nextSetBit(0); p >= 0; p = left.nextSetBit(0)) {
            int one = furthest(from(surface, places, one(p)), left, p);
            double[] across = from(surface, places, one(one));
            int other = furthest(across, left, one);
            // A point would send round fronts along the strap; the end's whole width sends level ones.
            BitSet end = new BitSet();
            for (int q = left.nextSetBit(0); q >= 0; q = left.nextSetBit(q + 1)) {
                end.set(q, across[q] < Double.POSITIVE_INFINITY && across[q] >= across[other] - width);
            }
            double[] along = from(surface, places, end);
            for (int q = left.nextSetBit(0); q >= 0; q = left.nextSetBit(q + 1)) {
                if (along[q] < Double.POSITIVE_INFINITY) {
                    out[q] = along[q];
                    left.clear(q);
                }
            }
        }
        return out;
    }

    private static BitSet one(int place) {
        BitSet out = new BitSet();
        out.set(place);
        return out;
    }

    private static int furthest(double[] distances, BitSet among, int fallback) {
        int best = fallback;
        for (int q = among.nextSetBit(0); q >= 0; q = among.nextSetBit(q + 1)) {
            boolean reached = distances[q] < Double.POSITIVE_INFINITY;
            best = reached && distances[q] > distances[best] ? q : best;
        }
        return best;
    }

    private static double[] from(WeldedSurface surface, BitSet places, BitSet starts) {
        double[] out = new double[surface.size()];
        java.util.Arrays.fill(out, Double.POSITIVE_INFINITY);
        PriorityQueue<double[]> queue = new PriorityQueue<>((a, b) -> Double.compare(a[0], b[0]));
        for (int p = starts.nextSetBit(0); p >= 0; p = starts.nextSetBit(p + 1)) {
            out[p] = 0;
            queue.add(new double[] {0, p});
        }
        while (!queue.isEmpty()) {
            double[] next = queue.poll();
            int p = (int) next[1];
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1] && next[0] <= out[p]; e++) {
                int q = surface.neighbours()[e];
                double way = next[0] + distance(surface, p, q);
                if (places.get(q) && way < out[q]) {
                    out[q] = way;
                    queue.add(new double[] {way, q});
                }
            }
        }
        return out;
    }

    /** Places of about the same length that hang together with one. */
    private static BitSet band(WeldedSurface surface, BitSet places, double[] length, int place, double reach) {
        BitSet out = new BitSet();
        ArrayDeque<Integer> queue = new ArrayDeque<>();
        queue.add(place);
        out.set(place);
        while (!queue.isEmpty()) {
            int p = queue.poll();
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                int q = surface.neighbours()[e];
                if (places.get(q) && !out.get(q) && Math.abs(length[q] - length[place]) < reach) {
                    out.set(q);
                    queue.add(q);
                }
            }
        }
        return out;
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
