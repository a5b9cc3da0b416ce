package org.cleanmarrow.measure;

import java.util.stream.IntStream;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.surface.WeldedSurface;

/** Where a posed surface goes through itself. */
public final class SelfIntersections {
    /** What ends at a triangle's plane does not yet go through it. */
    private static final double THROUGH = 0.999;

    private SelfIntersections() {}

    /**
     * Edges that pierce a triangle with which they share no corner.
     *
     * @param surface how the mesh hangs together
     * @param posed   3 a vertex of the mesh
     */
    public static int count(WeldedSurface surface, float[] posed) {
        int places = surface.size();
        float[] at = surface.byWelded(posed);
        int[] triangles = surface.triangles();
        TriangleTree tree = new TriangleTree(triangles, at);
        int[] starts = surface.starts();
        int[] neighbours = surface.neighbours();
        return IntStream.range(0, places)
                .parallel()
                .map(a -> {
                    int found = 0;
                    for (int e = starts[a]; e < starts[a + 1]; e++) {
                        int b = neighbours[e];
                        found += a < b && pierces(tree, triangles, at, a, b) ? 1 : 0;
                    }
                    return found;
                })
                .sum();
    }

    private static boolean pierces(TriangleTree tree, int[] triangles, float[] at, int a, int b) {
        float[] o = {at[a * 3], at[a * 3 + 1], at[a * 3 + 2]};
        float[] d = {at[b * 3] - o[0], at[b * 3 + 1] - o[1], at[b * 3 + 2] - o[2]};
        double length = Math.sqrt(d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
        if (!(length > 0) || Double.isInfinite(length)) {
            return false;
        }
        for (int i = 0; i < 3; i++) {
            d[i] /= (float) length;
        }
        TriangleTree.Hit hit = tree.nearest(o, d, t -> {
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
