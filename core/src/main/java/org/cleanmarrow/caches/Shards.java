package org.cleanmarrow.caches;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.Cut;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/**
 * A closed surface broken into the Voronoi cells of seeds: each piece is what is nearer to its seed than to any other (Aurenhammer
 * 1991). A piece that falls apart is several.
 */
public final class Shards {
    /** A seed nearer to where it was hit is looked for so many times at most. */
    private static final int MOST_TRIES = 12;

    private static final int MOST_MISSES = 10_000;

    /** Pieces smaller than this share of the whole are what rounding left. */
    private static final double NOTHING = 1e-9;

    private Shards() {}

    /**
     * Seeds inside a closed surface, evenly strewn, or the more the nearer to a point.
     *
     * @param corners   3 places a triangle, outside where they run against the clock
     * @param positions 3 numbers a place
     * @param gather    0: evenly; 1: most of them near the point
     */
    public static Vector3d[] seeds(int[] corners, float[] positions, int many, Vector3d at, double gather, long seed) {
        Random random = new Random(seed);
        TriangleTree tree = new TriangleTree(corners, positions);
        Box box = Box.empty();
        box.grow(positions);
        int tries = 1 + (int) Math.rint(gather * (MOST_TRIES - 1));
        return Stream.generate(() -> IntStream.range(0, tries)
                        .mapToObj(i -> inside(random, tree, corners, positions, box))
                        .min(Comparator.comparingDouble(at::distanceSquared))
                        .orElseThrow())
                .limit(many)
                .toArray(Vector3d[]::new);
    }

    /** Where hardly anything is inside its box, anywhere in the box will do: cells are cut all the same. */
    private static Vector3d inside(Random random, TriangleTree tree, int[] corners, float[] positions, Box box) {
        Vector3d p = new Vector3d();
        for (int i = 0; i < MOST_MISSES; i++) {
            p.set(random.nextDouble(), random.nextDouble(), random.nextDouble())
                    .mul(box.size())
                    .add(box.min());
            if (isInside(tree, corners, positions, p)) {
                break;
            }
        }
        return p;
    }

    /** By the side from which a ray sees the first triangle that it meets. */
    private static boolean isInside(TriangleTree tree, int[] corners, float[] x, Vector3d p) {
        float[] ray = {0.36f, 0.48f, 0.8f};
        TriangleTree.Hit hit = tree.nearest(new float[] {(float) p.x, (float) p.y, (float) p.z}, ray, t -> true);
        if (hit == null) {
            return false;
        }
        float[] normal = new float[3];
        TriangleNormals.put(corners, 3 * hit.triangle(), x, normal, 0);
        return normal[0] * ray[0] + normal[1] * ray[1] + normal[2] * ray[2] > 0;
    }

    /**
     * The pieces, those of the first seed first; each closed. Cost: for each seed the triangles that are left of the surface, times
     * the planes that cut it.
     *
     * @param whole closed, and not changed
     * @param gap   between pieces, 0 or more
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static List<Cut> of(Cut whole, Vector3d[] seeds, double gap, Work work) {
        double least = NOTHING * whole.volume();
        Cut[] cells = new Cut[seeds.length];
        int[] done = {0};
        IntStream.range(0, seeds.length).parallel().forEach(i -> {
            work.stopIfCancelled();
            cells[i] = cell(whole, seeds, i, gap);
            synchronized (done) {
                work.at(++done[0] / (double) seeds.length, "");
            }
        });
        return Arrays.stream(cells)
                .flatMap(cell -> cell.solids().stream())
                .filter(piece -> piece.volume() > least)
                .toList();
    }

    private static Cut cell(Cut whole, Vector3d[] seeds, int of, double gap) {
        Vector3d seed = seeds[of];
        int[] nearest = IntStream.range(0, seeds.length)
                .filter(i -> i != of && seeds[i].distanceSquared(seed) > 0)
                .boxed()
                .sorted(Comparator.comparingDouble(i -> seeds[i].distanceSquared(seed)))
                .mapToInt(i -> i)
                .toArray();
        Cut cell = whole.copy();
        double farthest = cell.farthestSquared(seed);
        for (int other : nearest) {
            // Planes farther off than what is left of it cut nothing.
            if (cell.isEmpty() || seeds[other].distanceSquared(seed) > 4 * farthest) {
                break;
            }
            Vector3d normal = new Vector3d(seeds[other]).sub(seed).normalize();
            Vector3d middle = new Vector3d(seeds[other]).add(seed).mul(0.5);
            cell.cut(normal, normal.dot(middle) - gap / 2, other);
            farthest = cell.farthestSquared(seed);
        }
        return cell.closed();
    }
}
