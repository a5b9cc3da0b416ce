package org.cleanmarrow.weights;

import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;

/** For every place of a surface the nearest point of the skins below it: how far, how it faces, and the weights there. */
final class NearestSkin {
    private final List<Transfer.Source> sources;
    private final int[] source;
    private final int[] triangle;
    private final double[] shares;
    private final float[] distance;
    private final float[] facing;

    private NearestSkin(List<Transfer.Source> sources, int places) {
        this.sources = sources;
        source = new int[places];
        triangle = new int[places];
        shares = new double[places * 3];
        distance = new float[places];
        facing = new float[places];
    }

    static NearestSkin of(WeldedSurface to, List<Transfer.Source> sources, Work work) {
        NearestSkin out = new NearestSkin(sources, to.size());
        float[] normals = to.normals();
        TriangleTree[] trees = sources.stream()
                .map(s -> new TriangleTree(s.surface().triangles(), s.surface().positions()))
                .toArray(TriangleTree[]::new);
        float[][] skins = sources.stream().map(s -> s.surface().normals()).toArray(float[][]::new);
        IntStream.range(0, to.size()).parallel().forEach(p -> {
            if ((p & 1023) == 0) {
                work.stopIfCancelled();
            }
            out.find(p, to.positions(), normals, trees, skins);
        });
        return out;
    }

    private void find(int p, float[] at, float[] normals, TriangleTree[] trees, float[][] skins) {
        TriangleTree.Hit best = null;
        source[p] = -1;
        for (int s = 0; s < trees.length; s++) {
            TriangleTree.Hit hit =
                    trees[s].nearestPoint(at[p * 3], at[p * 3 + 1], at[p * 3 + 2], sources.get(s)::takes);
            if (hit != null && (best == null || hit.distance() < best.distance())) {
                best = hit;
                source[p] = s;
            }
        }
        if (best == null) {
            distance[p] = Float.POSITIVE_INFINITY;
            return;
        }
        triangle[p] = best.triangle();
        distance[p] = best.distance();
        shares[p * 3] = Math.max(0, 1 - best.u() - best.v());
        shares[p * 3 + 1] = Math.max(0, best.u());
        shares[p * 3 + 2] = Math.max(0, best.v());
        double length = 0;
        double dot = 0;
        for (int k = 0; k < 3; k++) {
            double there = 0;
            for (int i = 0; i < 3; i++) {
                there += shares[p * 3 + i] * skins[source[p]][corner(p, i) * 3 + k];
            }
            length += there * there;
            dot += there * normals[p * 3 + k];
        }
        facing[p] = (float) (dot / Math.sqrt(length));
    }

    private int corner(int place, int i) {
        return sources.get(source[place]).surface().triangles()[triangle[place] * 3 + i];
    }

    /** Distances by place, in the unit of the positions; infinite where there is nothing. */
    float[] distances() {
        return distance;
    }

    /** Numbers of the sources by place; -1 where there is nothing. */
    int[] sources() {
        return source;
    }

    /** Cosine between the place's normal and that of the skin below; not a number where either has none. */
    float facing(int place) {
        return facing[place];
    }

    /**
     * Whether a place lies so near a skin and faces so much alike that its weights hold for it.
     *
     * @param least      cosine between the normals
     * @param eitherSide count a normal that faces the opposite way as the same
     */
    boolean fits(int place, double reach, double least, boolean eitherSide) {
        return distance[place] <= reach && (eitherSide ? Math.abs(facing[place]) : facing[place]) >= least;
    }

    /**
     * The weights at the nearest point, summing to one.
     *
     * @return false where there are none
     */
    boolean weights(int place, Row row) {
        row.clear();
        if (source[place] < 0) {
            return false;
        }
        for (int i = 0; i < 3; i++) {
            row.add(sources.get(source[place]).rows(), corner(place, i), shares[place * 3 + i]);
        }
        row.dropBelow(1e-6);
        return row.normalise();
    }
}
