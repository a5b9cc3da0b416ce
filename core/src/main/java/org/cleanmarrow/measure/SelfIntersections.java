package org.cleanmarrow.measure;

import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.surface.WeldedSurface;

/** Where a surface goes through itself as it is posed. Not for several threads at a time; each count uses all cores. */
public final class SelfIntersections {
    /** What ends at a triangle's plane does not yet go through it. */
    private static final double THROUGH = 0.999;

    private final WeldedSurface surface;
    private final int[] triangles;
    private final TriangleTree tree;

    /**
     * Cost: n log n once, so that many poses are counted for n each.
     *
     * @param surface how the mesh hangs together
     * @param rest    3 a vertex of the mesh
     */
    public SelfIntersections(WeldedSurface surface, float[] rest) {
        this.surface = surface;
        triangles = surface.triangles();
        tree = new TriangleTree(triangles, surface.byWelded(rest));
    }

    /**
     * Edges that pierce a triangle with which they share no corner.
     *
     * @param posed 3 a vertex of the mesh
     */
    public int count(float[] posed) {
        float[] at = surface.byWelded(posed);
        tree.refit(at);
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        return IntStream.range(0, surface.size())
                .parallel()
                .map(a -> {
                    int found = 0;
                    for (int e = starts[a]; e < starts[a + 1]; e++) {
                        int b = neighbours[e];
                        found += a < b && pierces(at, a, b) ? 1 : 0;
                    }
                    return found;
                })
                .sum();
    }

    private boolean pierces(float[] at, int a, int b) {
        float[] o = {at[a * 3], at[a * 3 + 1], at[a * 3 + 2]};
        float[] d = {at[b * 3] - o[0], at[b * 3 + 1] - o[1], at[b * 3 + 2] - o[2]};
        double length = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
        if (!(length > 0) || Double.isInfinite(length)) {
            return false;
        }
        for (int i = 0; i < 3; i++) {
            d[i] /= (float) length;
        }
        // Beyond the edge's end nothing is of interest, and almost the whole surface lies there.
        TriangleTree.Hit hit = tree.nearest(o, d, (float) length, t -> {
            for (int i = 0; i < 3; i++) {
                if (triangles[t * 3 + i] == a || triangles[t * 3 + i] == b) {
                    return false;
                }
            }
            return true;
        });
        return hit != null && hit.distance() > (1 - THROUGH) * length && hit.distance() < THROUGH * length;
    }
}
