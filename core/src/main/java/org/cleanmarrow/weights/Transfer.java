package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.function.IntUnaryOperator;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * Takes weights from surfaces to one that lies near them: where the nearest point is near enough and faces the same way
 * its weights are taken as they are; the rest is filled in over the surface (Abdrashitov et al. 2023, section 3).
 */
public final class Transfer {
    private static final int SMOOTHING_ROUNDS = 10;
    private static final int SMOOTHING_RINGS = 2;
    private static final double SMOOTHING = 0.2;

    /**
     * A surface that weights come from.
     *
     * @param rows   by place, under the joint numbers of the receiver
     * @param counts places that are taken from: triangles that have one of another are passed over
     */
    public record Source(WeldedSurface surface, Influences rows, BitSet counts) {
        boolean takes(int triangle) {
            int[] t = surface.triangles();
            return counts.get(t[triangle * 3]) && counts.get(t[triangle * 3 + 1]) && counts.get(t[triangle * 3 + 2]);
        }
    }

    /**
     * What came of it.
     *
     * @param rows     by place of the receiver
     * @param matched  places whose weights were taken as they are
     * @param filled   places filled in over the surface
     * @param rigid    places of pieces with nothing matched, which move as the nearest matched place does
     * @param nearest  distance to the sources, by place
     * @param source   number of the nearest source, by place; -1 where there is none
     */
    public record Result(Influences rows, BitSet matched, BitSet filled, BitSet rigid, float[] nearest, int[] source) {
        Result withRows(Influences rows) {
            return new Result(rows, matched, filled, rigid, nearest, source);
        }
    }

    private Transfer() {}

    /**
     * @param reach      how far a point may be to be taken, in the unit of the positions
     * @param degrees    how far normals may differ
     * @param eitherSide count a normal that faces the opposite way as the same: for linings and inner layers
     * @param joints     how many joints the rows have
     * @return null where nothing matches
     */
    public static @Nullable Result run(
            WeldedSurface to,
            List<Source> sources,
            double reach,
            double degrees,
            boolean eitherSide,
            int joints,
            Work work) {
        NearestSkin nearest = NearestSkin.of(to, sources, work);
        double least = Math.cos(Math.toRadians(degrees));
        return of(to, nearest, p -> p, p -> nearest.fits(p, reach, least, eitherSide), joints, work);
    }

    /**
     * Takes what fits, fills in the rest and evens the border out.
     *
     * @param leads for every place the one whose weights it takes
     * @param fits  whether they are taken
     * @return null where nothing fits
     */
    static @Nullable Result of(
            WeldedSurface to, NearestSkin nearest, IntUnaryOperator leads, IntPredicate fits, int joints, Work work) {
        Influences.Builder taken = new Influences.Builder(to.size());
        BitSet matched = new BitSet(to.size());
        Row row = new Row();
        for (int p = 0; p < to.size(); p++) {
            int from = leads.applyAsInt(p);
            matched.set(p, fits.test(from) && nearest.weights(from, row));
            if (matched.get(p)) {
                row.to(taken);
            } else {
                taken.endRow();
            }
        }
        if (matched.isEmpty()) {
            return null;
        }
        work.at(0.3, "");
        Influences full = Inpainting.fill(to, taken.build(), matched, joints, work);
        work.at(0.85, "");
        BitSet rigid = new BitSet();
        BitSet filled = new BitSet();
        for (int p = 0; p < to.size(); p++) {
            if (!matched.get(p)) {
                (full.rowLength(p) > 0 ? filled : rigid).set(p);
            }
        }
        full = withRigid(to, full, matched, rigid);
        BitSet border = border(to, matched, filled);
        full = Smoothing.run(to, full, border, p -> SMOOTHING, SMOOTHING_ROUNDS, new BitSet());
        return new Result(full, matched, filled, rigid, nearest.distances(), nearest.sources());
    }

    /** Pieces with nothing matched each take the row of the matched place nearest to their middle. */
    static Influences withRigid(WeldedSurface to, Influences rows, BitSet matched, BitSet rigid) {
        if (rigid.isEmpty()) {
            return rows;
        }
        Box[] boxes = new Box[to.islandCount()];
        float[] at = to.positions();
        rigid.stream().forEach(p -> {
            int island = to.islandOf(p);
            boxes[island] = boxes[island] == null ? Box.empty() : boxes[island];
            boxes[island].grow(at[p * 3], at[p * 3 + 1], at[p * 3 + 2]);
        });
        int[] taken = matched.stream().toArray();
        float[] places = new float[taken.length * 3];
        for (int i = 0; i < taken.length; i++) {
            System.arraycopy(at, taken[i] * 3, places, i * 3, 3);
        }
        PointTree tree = new PointTree(places);
        int[] from = new int[boxes.length];
        for (int s = 0; s < boxes.length; s++) {
            if (boxes[s] != null) {
                Vector3d centre = boxes[s].centre();
                int nearest = tree.nearest((float) centre.x, (float) centre.y, (float) centre.z);
                from[s] = nearest < 0 ? 0 : taken[nearest];
            }
        }
        Influences.Builder out = new Influences.Builder(to.size());
        for (int p = 0; p < to.size(); p++) {
            int row = rigid.get(p) ? from[to.islandOf(p)] : p;
            out.copyRows(rows, row, row + 1);
        }
        return out.build();
    }

    /** Filled places near matched ones. */
    private static BitSet border(WeldedSurface to, BitSet matched, BitSet filled) {
        BitSet out = new BitSet();
        BitSet ring = matched;
        for (int i = 0; i < SMOOTHING_RINGS; i++) {
            BitSet next = new BitSet();
            BitSet from = ring;
            from.stream().forEach(p -> {
                for (int e = to.starts()[p]; e < to.starts()[p + 1]; e++) {
                    if (filled.get(to.neighbours()[e])) {
                        next.set(to.neighbours()[e]);
                    }
                }
            });
            out.or(next);
            ring = next;
        }
        return out;
    }
}
