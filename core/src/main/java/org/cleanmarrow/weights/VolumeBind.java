package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.linear.SparseCholesky;
import org.cleanmarrow.linear.SparseSymmetric;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** Weights found from where joints lie in the volume of a mesh. */
public final class VolumeBind {
    private static final double LEAST = 2e-3;
    private static final int SMOOTHING_ROUNDS = 3;
    /** Bones that are further than the nearest by no more than this share are as near. */
    private static final double TIED = 0.01;

    private VolumeBind() {}

    /** How weights follow from distances. */
    public enum How {
        /**
         * Heat that flows from the nearest joint of each place over the surface (Baran and Popovic, "Automatic Rigging and
         * Animation of 3D Characters", SIGGRAPH 2007, section 4), nearest through the volume instead of by sight.
         */
        HEAT,
        /** By the distance to every joint through the volume (Dionne and de Lasa 2013, section 4). */
        DISTANCE
    }

    /**
     * What came of it.
     *
     * @param rows      by place
     * @param apart     places of pieces that no joint reaches through the volume; they follow the nearest place that one does
     * @param cell      edge of the cells, in the unit of the positions
     * @param cells     how many were solid
     * @param unreached chosen joints that lie outside and move nothing
     */
    public record Result(Influences rows, BitSet apart, double cell, int cells, BitSet unreached) {}

    /**
     * @param chosen   joints that may move something
     * @param softness 0 to 1: how far joints reach into each other
     * @param most     joints a place at most
     * @return null where no joint lies in the volume
     */
    public static @Nullable Result run(
            WeldedSurface surface,
            Bones bones,
            BitSet chosen,
            int joints,
            How how,
            double softness,
            int most,
            Work work) {
        Box box = Box.empty();
        box.grow(surface.positions());
        double size = box.diagonal();
        double cell = cellFor(surface, bones, chosen, how, size);
        Volume volume = new Volume(surface.triangles(), surface.positions(), cell, work);
        work.at(0.2, "");
        BitSet[] seeds = new BitSet[joints];
        BitSet unreached = new BitSet();
        for (int j = 0; j < joints; j++) {
            seeds[j] = new BitSet();
            if (!chosen.get(j)) {
                continue;
            }
            if (bones.isTop(j) && volume.solidAt(bones.place(j)) < 0) {
                // A root on the ground stands for everything and moves nothing by itself.
                unreached.set(j);
                continue;
            }
            for (Bones.Line line : bones.of(j)) {
                volume.along(line.from(), line.to(), seeds[j]);
            }
            if (seeds[j].isEmpty()) {
                around(surface, volume, bones, j, size, seeds[j]);
            }
            if (seeds[j].isEmpty()) {
                unreached.set(j);
            }
        }
        if (unreached.cardinality() == chosen.cardinality()) {
            return null;
        }
        Influences rows = how == How.HEAT
                ? heat(surface, volume, bones, seeds, softness, most, work)
                : distance(surface, volume, seeds, joints, softness, most, work);
        BitSet apart = new BitSet();
        for (int p = 0; p < surface.size(); p++) {
            if (rows.rowLength(p) == 0) {
                apart.set(p);
            }
        }
        if (apart.cardinality() == surface.size()) {
            return null;
        }
        work.at(0.9, "");
        rows = withApart(surface, rows, apart);
        return new Result(rows, apart, volume.cell(), volume.size(), unreached);
    }

    /** For a bone in the air of an open mesh: the surface nearest to it, where that is no further than a tenth of the size. */
    private static void around(
            WeldedSurface surface, Volume volume, Bones bones, int joint, double size, BitSet seeds) {
        float[] p = surface.positions();
        Vector3d at = new Vector3d();
        double[] distances = new double[surface.size()];
        double least = Double.POSITIVE_INFINITY;
        for (int i = 0; i < distances.length; i++) {
            distances[i] = bones.distance(joint, at.set(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]));
            least = Math.min(least, distances[i]);
        }
        for (int i = 0; least < size / 10 && i < distances.length; i++) {
            int cell = volume.solidAt(at.set(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]));
            if (distances[i] <= 1.15 * least + volume.cell() && cell >= 0) {
                seeds.set(cell);
            }
        }
    }

    /** Two thirds of the distance of the tenth part of the joints nearest to the surface: as the thinnest limbs need it. */
    private static double cellFor(WeldedSurface surface, Bones bones, BitSet chosen, How how, double size) {
        TriangleTree tree = new TriangleTree(surface.triangles(), surface.positions());
        double[] distances = chosen.stream()
                .mapToDouble(j -> {
                    Vector3d at = bones.place(j);
                    TriangleTree.Hit hit = tree.nearestPoint((float) at.x, (float) at.y, (float) at.z, t -> true);
                    return hit == null ? size : hit.distance();
                })
                .filter(d -> d > size / 1000)
                .sorted()
                .toArray();
        double thin = distances.length == 0 ? size / 100 : distances[distances.length / 10];
        // A way to every joint is many ways; one to the nearest may go through finer cells.
        return Math.clamp(thin / 1.5, size / (how == How.HEAT ? 500 : 220), size / 80);
    }

    private static Influences heat(
            WeldedSurface surface, Volume volume, Bones bones, BitSet[] seeds, double softness, int most, Work work) {
        Volume.Nearest nearest = volume.nearest(seeds, work);
        int n = surface.size();
        float[] p = surface.positions();
        double[] areas = surface.areas();
        double[] holds = new double[n];
        int[][] owners = new int[n][];
        boolean[] reached = new boolean[surface.islandCount()];
        BitSet near = new BitSet();
        Vector3d at = new Vector3d();
        for (int i = 0; i < n; i++) {
            volume.around(p[i * 3], p[i * 3 + 1], p[i * 3 + 2], nearest, near);
            at.set(p[i * 3], p[i * 3 + 1], p[i * 3 + 2]);
            double d = Double.POSITIVE_INFINITY;
            for (int j = near.nextSetBit(0); j >= 0; j = near.nextSetBit(j + 1)) {
                d = Math.min(d, bones.distance(j, at));
            }
            // Of the joints that the volume leads to, those whose bones are nearest in a straight line share the place.
            double tied = d * (1 + TIED);
            owners[i] = near.stream().filter(j -> bones.distance(j, at) <= tied).toArray();
            // Softer: the heat is held less, and flows further.
            double length = Math.max(d, volume.cell()) * (0.35 + 1.3 * softness);
            holds[i] = near.isEmpty() ? 0 : areas[i] / (length * length);
            reached[surface.islandOf(i)] |= !near.isEmpty();
        }
        work.at(0.4, "");
        work.stopIfCancelled();
        SparseSymmetric.Rows laplacian = surface.laplacian();
        double[] values = laplacian.values().clone();
        for (int i = 0; i < n; i++) {
            double least = reached[surface.islandOf(i)] ? 0 : 1;
            for (int e = laplacian.starts()[i]; e < laplacian.starts()[i + 1]; e++) {
                values[e] += laplacian.columns()[e] == i ? holds[i] + least + 1e-12 : 0;
            }
        }
        SparseCholesky factored =
                SparseCholesky.of(new SparseSymmetric.Rows(laplacian.starts(), laplacian.columns(), values));
        if (factored == null) {
            throw new IllegalStateException("the surface cannot be factored");
        }
        work.at(0.6, "");
        float[][] weights = new float[seeds.length][];
        double[][] right = new double[seeds.length][];
        for (int i = 0; i < n; i++) {
            for (int j : owners[i]) {
                right[j] = right[j] == null ? new double[n] : right[j];
                right[j][i] = holds[i] / owners[i].length;
            }
        }
        IntStream.range(0, right.length)
                .parallel()
                .filter(j -> right[j] != null)
                .forEach(j -> {
                    work.stopIfCancelled();
                    double[] x = factored.solve(right[j]);
                    weights[j] = new float[n];
                    for (int i = 0; i < n; i++) {
                        weights[j][i] = (float) Math.clamp(x[i], 0, 1);
                    }
                });
        return rows(n, weights, most, i -> reached[surface.islandOf(i)]);
    }

    private static Influences distance(
            WeldedSurface surface, Volume volume, BitSet[] seeds, int joints, double softness, int most, Work work) {
        int n = surface.size();
        float[] p = surface.positions();
        // The falloff of the paper's equation 3 has power 2 to 4; limbs need more, or far joints add up.
        double power = 8 - 5 * softness;
        int furthest = 0;
        for (int tenths : volume.nearest(seeds, work).tenths()) {
            furthest = tenths == Integer.MAX_VALUE ? furthest : Math.max(furthest, tenths);
        }
        // No joint that is so many times further than the nearest gets any weight.
        int limit = (int) Math.min(Integer.MAX_VALUE / 2, furthest * Math.pow(1 / LEAST, 1 / power));
        float[][] distances = new float[joints][];
        IntStream.range(0, joints).parallel().filter(j -> !seeds[j].isEmpty()).forEach(j -> {
            int[] tenths = volume.distances(seeds[j], limit, work);
            float[] out = new float[n];
            for (int i = 0; i < n; i++) {
                out[i] = (float) volume.at(p[i * 3], p[i * 3 + 1], p[i * 3 + 2], tenths);
            }
            distances[j] = out;
        });
        float[][] weights = new float[joints][];
        float[] least = new float[n];
        Arrays.fill(least, Float.POSITIVE_INFINITY);
        for (float[] d : distances) {
            for (int i = 0; d != null && i < n; i++) {
                least[i] = Math.min(least[i], d[i]);
            }
        }
        for (int j = 0; j < joints; j++) {
            if (distances[j] != null) {
                weights[j] = new float[n];
                for (int i = 0; i < n; i++) {
                    double ratio = Math.max(least[i], volume.cell()) / Math.max(distances[j][i], volume.cell());
                    weights[j][i] = least[i] == Float.POSITIVE_INFINITY ? 0 : (float) Math.pow(ratio, power);
                }
            }
        }
        Influences rows = rows(n, weights, most, i -> least[i] != Float.POSITIVE_INFINITY);
        BitSet all = new BitSet();
        for (int i = 0; i < n; i++) {
            if (rows.rowLength(i) > 0) {
                all.set(i);
            }
        }
        Influences smooth = Smoothing.run(surface, rows, all, i -> 0.5, SMOOTHING_ROUNDS, new BitSet());
        Influences.Builder out = new Influences.Builder(n);
        Row row = new Row();
        for (int i = 0; i < n; i++) {
            row.clear();
            row.load(smooth, i);
            row.keepSmoothly(most);
            row.normalise();
            row.to(out);
        }
        return out.build();
    }

    private static Influences rows(int n, float[][] weights, int most, java.util.function.IntPredicate has) {
        Influences.Builder out = new Influences.Builder(n);
        Row row = new Row();
        for (int i = 0; i < n; i++) {
            row.clear();
            double sum = 0;
            for (float[] w : weights) {
                sum += w == null ? 0 : w[i];
            }
            for (int j = 0; has.test(i) && j < weights.length; j++) {
                if (weights[j] != null && weights[j][i] > LEAST * sum) {
                    row.append(j, weights[j][i]);
                }
            }
            row.keepSmoothly(most);
            row.normalise();
            row.to(out);
        }
        return out.build();
    }

    /** Pieces that no joint reaches move as a whole with the nearest place that one does. */
    private static Influences withApart(WeldedSurface surface, Influences rows, BitSet apart) {
        if (apart.isEmpty()) {
            return rows;
        }
        BitSet found = new BitSet();
        found.set(0, surface.size());
        found.andNot(apart);
        return Transfer.withRigid(surface, rows, found, apart);
    }
}
