package org.cleanmarrow.weights;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.surface.WeldedSurface;

/**
 * Which region of a body every place of a surface belongs to: that of the joints that move it most, evened out so that
 * borders run straight (iterated conditional modes, Besag 1986, section 2.5), and without specks.
 */
public final class RegionMap {
    /** What being of another region than those around costs, against the weight that is given up. */
    private static final double EVEN = 0.6;
    /** Pieces of fewer places that have another region all around them are specks. */
    private static final int SPECK = 4;

    private final WeldedSurface surface;
    private final int[] of;
    private int joined;

    private RegionMap(WeldedSurface surface, int[] of) {
        this.surface = surface;
        this.of = of;
    }

    /**
     * @param rows    by place; places without any take the region of those around
     * @param ofJoint by joint
     * @param rounds  of evening at most; 0 leaves each to its heaviest joint, specks and all
     */
    public static RegionMap of(WeldedSurface surface, Influences rows, BodyRegion[] ofJoint, int rounds) {
        int n = surface.size();
        double[][] shares = new double[n][];
        int[] best = new int[n];
        for (int p = 0; p < n; p++) {
            shares[p] = new double[BodyRegion.values().length];
            for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                shares[p][ofJoint[rows.joints()[i]].ordinal()] += rows.weights()[i];
            }
            best[p] = largest(shares[p]);
        }
        RegionMap out = new RegionMap(surface, best);
        out.even(shares, rounds);
        if (rounds > 0) {
            out.join();
        }
        return out;
    }

    private static int largest(double[] values) {
        int best = 0;
        for (int i = 1; i < values.length; i++) {
            best = values[i] > values[best] ? i : best;
        }
        return best;
    }

    private void even(double[][] shares, int rounds) {
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        double[] gain = new double[BodyRegion.values().length];
        boolean changed = true;
        for (int round = 0; round < rounds && changed; round++) {
            changed = false;
            for (int p = 0; p < of.length; p++) {
                System.arraycopy(shares[p], 0, gain, 0, gain.length);
                int around = starts[p + 1] - starts[p];
                for (int e = starts[p]; e < starts[p + 1]; e++) {
                    gain[of[neighbours[e]]] += EVEN / around;
                }
                int best = largest(gain);
                // Of equals the one there was, so that it comes to rest.
                if (gain[best] > gain[of[p]]) {
                    of[p] = best;
                    changed = true;
                }
            }
        }
    }

    /** Gives specks to the region that most of those around them have. */
    private void join() {
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        boolean[] done = new boolean[of.length];
        for (int p = 0; p < of.length; p++) {
            if (done[p]) {
                continue;
            }
            List<Integer> piece = new ArrayList<>(List.of(p));
            done[p] = true;
            int[] beside = new int[BodyRegion.values().length];
            for (int i = 0; i < piece.size(); i++) {
                int q = piece.get(i);
                for (int e = starts[q]; e < starts[q + 1]; e++) {
                    int r = neighbours[e];
                    if (of[r] != of[p]) {
                        beside[of[r]]++;
                    } else if (!done[r]) {
                        done[r] = true;
                        piece.add(r);
                    }
                }
            }
            int most = 0;
            for (int i = 1; i < beside.length; i++) {
                most = beside[i] > beside[most] ? i : most;
            }
            if (piece.size() < SPECK && beside[most] > 0) {
                for (int q : piece) {
                    of[q] = most;
                }
                joined++;
            }
        }
    }

    public BodyRegion at(int place) {
        return BodyRegion.values()[of[place]];
    }

    /** The region of a triangle: that of most of its corners; where all differ, of the first. */
    public BodyRegion of(int a, int b, int c) {
        return BodyRegion.values()[of[b] == of[c] ? of[b] : of[a]];
    }

    /** The regions that there are. */
    public Set<BodyRegion> regions() {
        Set<BodyRegion> out = EnumSet.noneOf(BodyRegion.class);
        for (int region : of) {
            out.add(BodyRegion.values()[region]);
        }
        return out;
    }

    /** How many specks went to the region around them. */
    public int joined() {
        return joined;
    }

    /** By region how many triangles it has. */
    public int[] triangles() {
        int[] out = new int[BodyRegion.values().length];
        int[] t = surface.triangles();
        for (int i = 0; i < t.length; i += 3) {
            out[of(t[i], t[i + 1], t[i + 2]).ordinal()]++;
        }
        return out;
    }

    /** Length of all edges whose ends have different regions, in the unit of the positions. */
    public double border() {
        int[] t = surface.triangles();
        double sum = 0;
        float[] at = surface.positions();
        for (int i = 0; i < t.length; i += 3) {
            // Through the triangle from the middle of one such edge to that of the other.
            int[] c = Arrays.copyOfRange(t, i, i + 3);
            for (int k = 0; k < 3; k++) {
                int alone = c[k];
                int b = c[(k + 1) % 3];
                int d = c[(k + 2) % 3];
                if (of[alone] != of[b] && of[b] == of[d]) {
                    double square = 0;
                    for (int x = 0; x < 3; x++) {
                        double by = (at[b * 3 + x] - at[d * 3 + x]) / 2;
                        square += by * by;
                    }
                    sum += Math.sqrt(square);
                }
            }
        }
        return sum;
    }
}
