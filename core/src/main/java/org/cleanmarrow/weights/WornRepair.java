package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;

/**
 * Makes the weights of a worn part better over trial poses. In every pose the part is relaxed as cloth ({@link WornCloth});
 * then every place takes the weights whose blend comes nearest to all these shapes together, by least squares with a sum of
 * one and none below zero. What lies in the skin or is torn counts for more there, by the trade.
 *
 * <p>Cost: poses times places a round; nothing is done where nothing is stretched or touched.
 */
public final class WornRepair {
    private static final int MOST_ROUNDS = 8;
    private static final int LEAST_ROUNDS = 4;
    /** Places that all rounds are made for; with more of them rounds are fewer, for fine surfaces differ little between. */
    private static final int MANY = 12_000;

    private static final int JOINTS = 8;
    /** A place moved less, in metres, is let be. */
    private static final double MOVED = 0.0002;

    /** What a place's old position counts against its new one. */
    private static final double PRIOR = 0.1;
    /** How far weights go to the mean of those beside them after a round. */
    private static final double EVENED = 0.2;

    private static final double SKIN_WEIGHT = 400;
    private static final double TEAR_WEIGHT = 40;

    /**
     * How it moves, over all poses together.
     *
     * @param stretched share of edges over one and a half times their length
     * @param deep      places a pose more than 2 mm below the skin that are not so at rest
     */
    public record Figures(double stretched, double deep) {}

    /** What came of it. */
    public record Result(Influences rows, Figures before, Figures after) {}

    private final WeldedSurface surface;
    private final int[] starts;
    private final int[] neighbours;
    private final WornCloth cloth;
    private final BitSet lying;
    private final double moved;
    private final Candidates candidates;
    private final double skinWeight;
    private final double tearWeight;

    /** Whether a joint may move a place. */
    public interface Candidates {
        boolean may(int place, int joint);
    }

    /**
     * @param below         by place the one of the layer below it, -1 for none
     * @param lying         places that lie on the skin and keep their weights
     * @param metresPerUnit of the positions
     * @param trade         0 for an even surface, 1 for one that keeps off the skin
     */
    WornRepair(
            WeldedSurface surface,
            int[] below,
            BitSet lying,
            PosedSkins skins,
            Candidates candidates,
            double metresPerUnit,
            double trade) {
        this.surface = surface;
        starts = surface.starts();
        neighbours = surface.neighbours();
        this.lying = lying;
        this.candidates = candidates;
        cloth = new WornCloth(surface, below, skins, metresPerUnit);
        moved = MOVED / metresPerUnit;
        skinWeight = SKIN_WEIGHT * Math.pow(10, 3 * (trade - 0.5));
        tearWeight = TEAR_WEIGHT * Math.pow(10, -2 * (trade - 0.5));
    }

    /** @param rows by place, under the numbers of the skin's joints */
    public Result run(Influences rows, Work work) {
        Influences now = rows;
        Figures before = null;
        int rounds = Math.clamp((long) MOST_ROUNDS * MANY / Math.max(1, surface.size()), LEAST_ROUNDS, MOST_ROUNDS);
        for (int round = 0; round < rounds; round++) {
            work.at(round / (rounds + 1.0), "");
            cloth.pose(now, true, work);
            before = before == null ? figures() : before;
            Influences current = now;
            BitSet moved = moved();
            if (moved.isEmpty()) {
                break;
            }
            Row[] fitted = new Row[surface.size()];
            int[] places = WornCloth.places(moved);
            IntStream.range(0, places.length).parallel().forEach(i -> fitted[places[i]] = fitted(places[i], current));
            Influences.Builder out = new Influences.Builder(surface.size());
            for (int p = 0; p < fitted.length; p++) {
                if (fitted[p] == null) {
                    out.copyRows(current, p, p + 1);
                } else {
                    fitted[p].to(out);
                }
            }
            now = Smoothing.run(surface, out.build(), moved, p -> EVENED, 1, new BitSet());
        }
        cloth.pose(now, false, work);
        Figures after = figures();
        before = before == null ? after : before;
        boolean worse = after.stretched >= before.stretched && after.deep >= before.deep;
        return worse ? new Result(rows, before, before) : new Result(now, before, after);
    }

    private Figures figures() {
        long stretched = 0;
        long deep = 0;
        for (WornCloth.Shape shape : cloth.shapes()) {
            stretched += shape.stretched;
            deep += shape.deep;
        }
        double poses = Math.max(1, cloth.shapes().length);
        return new Figures(stretched / (poses * Math.max(1, cloth.edges())), deep / poses);
    }

    /** Places that some pose wants elsewhere, without those that lie on the skin and are to follow it. */
    private BitSet moved() {
        BitSet out = new BitSet();
        for (WornCloth.Shape shape : cloth.shapes()) {
            for (int p = shape.active.nextSetBit(0); p >= 0; p = shape.active.nextSetBit(p + 1)) {
                double square = 0;
                for (int k = 0; k < 3; k++) {
                    double by = shape.wanted[p * 3 + k] - shape.weighted[p * 3 + k];
                    square += by * by;
                }
                if (square > moved * moved || cloth.held(shape, p)) {
                    out.set(p);
                }
            }
        }
        out.andNot(lying);
        return out;
    }

    /** The weights of the joints at a place and around it that put it nearest to where all poses want it. */
    private Row fitted(int p, Influences rows) {
        Row was = new Row();
        was.load(rows, p);
        Row near = new Row();
        near.add(was, 2);
        for (int e = starts[p]; e < starts[p + 1]; e++) {
            near.add(rows, neighbours[e], 1);
        }
        for (int i = near.size() - 1; i >= 0; i--) {
            if (!candidates.may(p, near.joint(i))) {
                near.remove(i);
            }
        }
        near.keep(JOINTS);
        int m = near.size();
        if (m < 2) {
            return was;
        }
        double[][] gram = new double[m][m];
        double[] q = new double[m * 3];
        double[] at = new double[3];
        double[] up = new double[m];
        for (WornCloth.Shape shape : cloth.shapes()) {
            for (int i = 0; i < m; i++) {
                cloth.by(shape.joints, near.joint(i), p, at);
                for (int c = 0; c < 3; c++) {
                    double wanted = (shape.wanted[p * 3 + c] + PRIOR * shape.weighted[p * 3 + c]) / (1 + PRIOR);
                    q[i * 3 + c] = at[c] - wanted;
                }
            }
            boolean held = cloth.held(shape, p);
            for (int i = 0; i < m && held; i++) {
                up[i] = 0;
                for (int c = 0; c < 3; c++) {
                    up[i] += q[i * 3 + c] * shape.planes[p * 6 + 3 + c];
                }
            }
            double weight = shape.torn.get(p) ? tearWeight : 1;
            for (int i = 0; i < m; i++) {
                for (int l = 0; l <= i; l++) {
                    gram[i][l] +=
                            weight * (q[i * 3] * q[l * 3] + q[i * 3 + 1] * q[l * 3 + 1] + q[i * 3 + 2] * q[l * 3 + 2])
                                    + (held ? skinWeight * up[i] * up[l] : 0);
                    gram[l][i] = gram[i][l];
                }
            }
        }
        double[] w = InfluenceChoice.fitted(gram, IntStream.range(0, m).boxed().toList());
        Row out = new Row();
        for (int i = 0; i < m; i++) {
            if (w[i] > 0 && Double.isFinite(w[i])) {
                out.append(near.joint(i), w[i]);
            }
        }
        return out.normalise() ? out : was;
    }
}
