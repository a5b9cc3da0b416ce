package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;

/**
 * A worn part in poses: where its weights put it, what is torn and what lies in the skin there, and where it would be as
 * cloth of little give, with edges of bounded stretch (position-based dynamics, Müller et al. 2007, section 3.3), its layers
 * kept apart and its places pushed off the skins below. Only what is stretched or touched gives way, and what is around it.
 *
 * <p>Lengths said here are metres, those of the surface are in its own unit. Cost: poses times places, and twenty rounds of
 * what gives way.
 */
final class WornCloth {
    private static final int RELAXATIONS = 20;
    /** Edges keep within these shares of their length at rest. */
    private static final double LONGEST = 1.8;

    private static final double SHORTEST = 0.75;
    /** The same for what holds layers apart. */
    private static final double APART = 0.06;
    /** An edge from which on a place counts as torn. */
    private static final double TORN = 1.8;
    /** An edge counted as stretched in the figures. */
    private static final double STRETCHED = 1.5;
    /** A depth counted in the figures. */
    private static final double DEEP = 0.002;
    /** Kept above the skin where it lies so high at rest. */
    private static final double KEPT = 0.001;
    /** Lower than this above the skin a place is held there by its weights. */
    private static final double HELD = 0.003;

    /** How far above the skin, and below, it is looked for. */
    private static final double ABOVE = 0.008;

    private static final double BELOW = 0.06;
    /** Rings around what is stretched or touched that give way with it. */
    private static final int RINGS = 6;

    private final WeldedSurface surface;
    private final PosedSkins skins;
    private final double metre;
    private final int[] firsts;
    private final int[] neighbours;
    private final int[] edges;
    /** How many of the edges are of the surface; those after them hold layers apart. */
    private final int own;

    private final float[] lengths;
    private final int[] starts;
    private final int[] touching;
    private final float[] height;
    private final Shape[] shapes;

    /**
     * @param below         by place the one of the layer below it, -1 for none
     * @param metresPerUnit of the positions
     */
    WornCloth(WeldedSurface surface, int[] below, PosedSkins skins, double metresPerUnit) {
        this.surface = surface;
        this.skins = skins;
        metre = 1 / metresPerUnit;
        firsts = surface.starts();
        neighbours = surface.neighbours();
        int n = surface.size();
        int[] pairs = new int[neighbours.length + 2 * n];
        int end = 0;
        for (int p = 0; p < n; p++) {
            for (int e = firsts[p]; e < firsts[p + 1]; e++) {
                if (neighbours[e] > p) {
                    pairs[end++] = p;
                    pairs[end++] = neighbours[e];
                }
            }
        }
        own = end / 2;
        for (int p = 0; p < n; p++) {
            if (below[p] >= 0) {
                pairs[end++] = p;
                pairs[end++] = below[p];
            }
        }
        edges = Arrays.copyOf(pairs, end);
        lengths = new float[end / 2];
        starts = new int[n + 1];
        for (int e = 0; e < lengths.length; e++) {
            lengths[e] = (float) distance(surface.positions(), edges[e * 2], edges[e * 2 + 1]);
            starts[edges[e * 2] + 1]++;
            starts[edges[e * 2 + 1] + 1]++;
        }
        for (int p = 0; p < n; p++) {
            starts[p + 1] += starts[p];
        }
        touching = new int[end];
        int[] next = Arrays.copyOf(starts, n);
        for (int i = 0; i < end; i++) {
            touching[next[edges[i]]++] = i / 2;
        }
        height = new float[n];
        int[] hints = atRest();
        shapes = new Shape[skins.poses()];
        for (int k = 0; k < shapes.length; k++) {
            shapes[k] = new Shape(n, skins.joints(k), hints.clone());
        }
    }

    /** Heights at rest; gives the triangles there. */
    private int[] atRest() {
        int n = surface.size();
        int[] found = new int[n * skins.skins()];
        Arrays.fill(found, -1);
        float[] at = surface.positions();
        IntStream.range(0, n)
                .parallel()
                .forEach(p -> height[p] = (float) skins.height(
                        0,
                        at[p * 3],
                        at[p * 3 + 1],
                        at[p * 3 + 2],
                        found,
                        p * skins.skins(),
                        Double.POSITIVE_INFINITY,
                        Double.POSITIVE_INFINITY,
                        new double[6]));
        return found;
    }

    private static double distance(float[] at, int p, int q) {
        double x = at[p * 3] - at[q * 3];
        double y = at[p * 3 + 1] - at[q * 3 + 1];
        double z = at[p * 3 + 2] - at[q * 3 + 2];
        return Math.sqrt(x * x + y * y + z * z);
    }

    /** A pose of the part: where its weights put it, what touches and what is torn there, and where it should be. */
    static final class Shape {
        final float[] joints;
        final int[] hints;
        float[] weighted;
        float[] wanted;
        final BitSet near;
        final BitSet torn;
        final BitSet active;
        final float[] planes;
        /** Where a place was when the skin below it was last looked for, and how far away all of it was. */
        final float[] looked;

        final float[] free;
        int stretched;
        int deep;

        Shape(int places, float[] joints, int[] hints) {
            this.joints = joints;
            this.hints = hints;
            weighted = new float[places * 3];
            wanted = weighted;
            near = new BitSet(places);
            torn = new BitSet(places);
            active = new BitSet(places);
            planes = new float[places * 6];
            looked = new float[places * 3];
            free = new float[places];
            Arrays.fill(looked, Float.NaN);
        }

        void begin(float[] at) {
            weighted = at;
            wanted = at.clone();
            torn.clear();
            active.clear();
            stretched = 0;
            deep = 0;
        }

        /** True where a place cannot have come near the skin since it was looked at. */
        boolean stillFree(int p) {
            double square = 0;
            for (int k = 0; k < 3; k++) {
                double by = weighted[p * 3 + k] - looked[p * 3 + k];
                square += by * by;
            }
            return square < free[p] * free[p];
        }

        /** Height above the plane of the skin. */
        double above(float[] at, int p) {
            double out = 0;
            for (int k = 0; k < 3; k++) {
                out += (at[p * 3 + k] - planes[p * 6 + k]) * planes[p * 6 + 3 + k];
            }
            return out;
        }
    }

    /** By pose. */
    Shape[] shapes() {
        return shapes;
    }

    /** How many edges the surface has. */
    int edges() {
        return own;
    }

    /**
     * Puts the part into every pose.
     *
     * @param relaxed find where it should be there as well
     */
    void pose(Influences rows, boolean relaxed, Work work) {
        IntStream.range(0, shapes.length).parallel().forEach(k -> {
            work.stopIfCancelled();
            shapes[k].begin(blended(shapes[k].joints, rows));
            look(shapes[k], k);
            if (relaxed) {
                relax(shapes[k]);
            }
        });
    }

    private float[] blended(float[] joints, Influences rows) {
        float[] out = new float[surface.size() * 3];
        double[] at = new double[3];
        for (int p = 0; p < surface.size(); p++) {
            double x = 0;
            double y = 0;
            double z = 0;
            for (int i = rows.offsets()[p]; i < rows.offsets()[p + 1]; i++) {
                by(joints, rows.joints()[i], p, at);
                x += rows.weights()[i] * at[0];
                y += rows.weights()[i] * at[1];
                z += rows.weights()[i] * at[2];
            }
            out[p * 3] = (float) x;
            out[p * 3 + 1] = (float) y;
            out[p * 3 + 2] = (float) z;
        }
        return out;
    }

    /** Where one joint alone would put a place. */
    void by(float[] m, int joint, int place, double[] out) {
        float[] at = surface.positions();
        double x = at[place * 3];
        double y = at[place * 3 + 1];
        double z = at[place * 3 + 2];
        for (int r = 0; r < 3; r++) {
            int i = joint * 12 + r * 4;
            out[r] = m[i] * x + m[i + 1] * y + m[i + 2] * z + m[i + 3];
        }
    }

    /** Finds what touches, what is torn, and what is to give way because of it. */
    private void look(Shape shape, int pose) {
        float[] at = shape.weighted;
        double[] plane = new double[6];
        BitSet start = new BitSet(surface.size());
        for (int p = 0; p < surface.size(); p++) {
            // What lies in the skin at rest nobody sees, and it has nowhere to go.
            if (height[p] < -DEEP * metre || shape.stillFree(p)) {
                continue;
            }
            double above = skins.height(
                    pose + 1,
                    at[p * 3],
                    at[p * 3 + 1],
                    at[p * 3 + 2],
                    shape.hints,
                    p * skins.skins(),
                    ABOVE * metre,
                    BELOW * metre,
                    plane);
            System.arraycopy(at, p * 3, shape.looked, p * 3, 3);
            shape.free[p] = (float) (Math.min(ABOVE * metre, above) - HELD * metre);
            shape.near.set(p, above < Double.POSITIVE_INFINITY);
            if (!shape.near.get(p)) {
                continue;
            }
            shape.free[p] = Math.max(0, shape.free[p]);
            for (int k = 0; k < 6; k++) {
                shape.planes[p * 6 + k] = (float) plane[k];
            }
            shape.deep += above < -DEEP * metre ? 1 : 0;
            if (above < least(p)) {
                start.set(p);
            }
        }
        for (int e = 0; e < lengths.length; e++) {
            double ratio = distance(at, edges[e * 2], edges[e * 2 + 1]) / lengths[e];
            boolean layer = e >= own;
            shape.stretched += !layer && ratio > STRETCHED ? 1 : 0;
            if (layer ? Math.abs(ratio - 1) > APART : ratio > LONGEST || ratio < SHORTEST) {
                start.set(edges[e * 2]);
                start.set(edges[e * 2 + 1]);
            }
            if (!layer && ratio > TORN) {
                shape.torn.set(edges[e * 2]);
                shape.torn.set(edges[e * 2 + 1]);
            }
        }
        shape.active.or(start);
        BitSet ring = start;
        for (int i = 0; i < RINGS; i++) {
            BitSet next = new BitSet(surface.size());
            for (int p = ring.nextSetBit(0); p >= 0; p = ring.nextSetBit(p + 1)) {
                for (int e = firsts[p]; e < firsts[p + 1]; e++) {
                    if (!shape.active.get(neighbours[e])) {
                        next.set(neighbours[e]);
                    }
                }
            }
            shape.active.or(next);
            ring = next;
        }
    }

    /** True where a place lies so low that its weights are to hold it off the skin. */
    boolean held(Shape shape, int p) {
        return shape.near.get(p) && shape.above(shape.weighted, p) < Math.min(height[p], HELD * metre);
    }

    /** How high above the skin a place is to be: no higher than at rest. */
    private double least(int place) {
        return Math.min(height[place], KEPT * metre);
    }

    private void relax(Shape shape) {
        float[] y = shape.wanted;
        BitSet some = new BitSet(lengths.length);
        for (int p = shape.active.nextSetBit(0); p >= 0; p = shape.active.nextSetBit(p + 1)) {
            for (int i = starts[p]; i < starts[p + 1]; i++) {
                some.set(touching[i]);
            }
        }
        int[] held = places(some);
        BitSet pushed = (BitSet) shape.near.clone();
        pushed.and(shape.active);
        int[] touched = places(pushed);
        for (int i = 0; i < RELAXATIONS; i++) {
            for (int e : held) {
                hold(y, e);
            }
            for (int p : touched) {
                double lacks = least(p) - shape.above(y, p);
                for (int k = 0; k < 3 && lacks > 0; k++) {
                    y[p * 3 + k] += (float) (lacks * shape.planes[p * 6 + 3 + k]);
                }
            }
        }
    }

    private void hold(float[] y, int e) {
        int a = edges[e * 2] * 3;
        int b = edges[e * 2 + 1] * 3;
        double x0 = y[b] - y[a];
        double x1 = y[b + 1] - y[a + 1];
        double x2 = y[b + 2] - y[a + 2];
        double length = Math.sqrt(x0 * x0 + x1 * x1 + x2 * x2);
        double least = (e < own ? SHORTEST : 1 - APART) * lengths[e];
        double most = (e < own ? LONGEST : 1 + APART) * lengths[e];
        double wanted = length < least ? least : length > most ? most : length;
        if (wanted == length || !(length > 0)) {
            return;
        }
        double by = 0.5 * (length - wanted) / length;
        y[a] += (float) (x0 * by);
        y[a + 1] += (float) (x1 * by);
        y[a + 2] += (float) (x2 * by);
        y[b] -= (float) (x0 * by);
        y[b + 1] -= (float) (x1 * by);
        y[b + 2] -= (float) (x2 * by);
    }

    static int[] places(BitSet set) {
        int[] out = new int[set.cardinality()];
        int end = 0;
        for (int p = set.nextSetBit(0); p >= 0; p = set.nextSetBit(p + 1)) {
            out[end++] = p;
        }
        return out;
    }
}
