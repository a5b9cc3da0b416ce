package org.cleanmarrow.uv;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;

/**
 * Whether a mesh has the texture coordinates of a template: the same at each corner of each triangle, island by island of the
 * template. Vertices may be numbered otherwise; triangles must come in the same order, or nothing can be said.
 *
 * @param islands of the template, in its order
 */
public record UvDifference(List<Island> islands) {
    /**
     * @param triangles how many it has
     * @param moved     corners that lie elsewhere
     * @param largest   the furthest of them, in shares of the picture
     */
    public record Island(int triangles, int moved, double largest) {}

    /**
     * Compares two layouts.
     *
     * @return empty where the triangles with coordinates are not the same ones
     */
    public static Optional<UvDifference> of(UvLayout template, UvLayout other) {
        int n = template.triangleCount();
        if (n != other.triangleCount()
                || IntStream.range(0, n).anyMatch(t -> template.triangleOfMesh(t) != other.triangleOfMesh(t))) {
            return Optional.empty();
        }
        int[] triangles = new int[template.islandCount()];
        int[] moved = new int[template.islandCount()];
        double[] largest = new double[template.islandCount()];
        for (int t = 0; t < n; t++) {
            int island = template.islandOf(t);
            triangles[island]++;
            for (int i = 3 * t; i < 3 * t + 3; i++) {
                int a = 2 * template.corners()[i];
                int b = 2 * other.corners()[i];
                double far = Math.hypot(
                        (double) template.uv()[a] - other.uv()[b], (double) template.uv()[a + 1] - other.uv()[b + 1]);
                moved[island] += far > 0 ? 1 : 0;
                largest[island] = Math.max(largest[island], far);
            }
        }
        return Optional.of(new UvDifference(IntStream.range(0, triangles.length)
                .mapToObj(i -> new Island(triangles[i], moved[i], largest[i]))
                .toList()));
    }

    /** Corners that lie elsewhere, of all islands. */
    public int moved() {
        return islands.stream().mapToInt(Island::moved).sum();
    }

    /** Islands of which a corner lies elsewhere. */
    public int changed() {
        return (int) islands.stream().filter(i -> i.moved() > 0).count();
    }

    /** The furthest of all, in shares of the picture. */
    public double largest() {
        return islands.stream().mapToDouble(Island::largest).max().orElse(0);
    }
}
