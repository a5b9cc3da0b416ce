package org.cleanmarrow.geometry;

import java.util.Arrays;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;

/**
 * How far the same points lie from the same triangles in many poses. What was nearest in one pose is looked at first in
 * the others, which leaves little to be searched.
 *
 * <p>Cost: a tree built, n log n, and a search of a few boxes a point.
 */
public final class SurfaceDistance {
    private final int[] corners;
    private final int[] near;

    /**
     * @param corners three a triangle, at least one
     * @param points  three numbers each, in any pose
     * @param places  of the corners in that pose
     */
    public SurfaceDistance(int[] corners, float[] points, float[] places) {
        this.corners = corners;
        TriangleTree tree = new TriangleTree(corners, places);
        near = IntStream.range(0, points.length / 3)
                .parallel()
                .map(v -> {
                    TriangleTree.Hit hit = hit(tree, points, v, -1, 0);
                    return hit == null ? -1 : hit.triangle();
                })
                .toArray();
    }

    /** Distance of every point; infinite where it is not finite, or no triangle is. */
    public double[] all(float[] points, float[] places) {
        TriangleTree tree = new TriangleTree(corners, places);
        double[] out = new double[near.length];
        Arrays.setAll(out, v -> distance(hit(tree, points, v, near[v], 0)));
        return out;
    }

    /** Largest distance of any point, or {@code least} where none is farther. */
    public double largest(float[] points, float[] places, double least) {
        TriangleTree tree = new TriangleTree(corners, places);
        // Whether points nearer than that are the nearest does not matter (Taha and Hanbury 2015, early breaking).
        return Math.max(
                least,
                IntStream.range(0, near.length)
                        .parallel()
                        .mapToDouble(v -> distance(hit(tree, points, v, near[v], least)))
                        .max()
                        .orElse(0));
    }

    private static double distance(TriangleTree.@Nullable Hit hit) {
        return hit == null ? Double.POSITIVE_INFINITY : hit.distance();
    }

    private static TriangleTree.@Nullable Hit hit(TriangleTree tree, float[] points, int v, int first, double enough) {
        float x = points[v * 3];
        float y = points[v * 3 + 1];
        float z = points[v * 3 + 2];
        return Float.isFinite(x + y + z) ? tree.nearestPoint(x, y, z, t -> true, first, enough) : null;
    }
}
