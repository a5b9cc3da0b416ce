package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.stream.IntStream;
import org.cleanmarrow.linear.SparseCholesky;
import org.cleanmarrow.linear.SparseSymmetric;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.work.Work;

/**
 * Fills weights in where there are none, as smoothly as the surface allows, from the places where they are known:
 * Abdrashitov, Raichstat, Monsen and Hill, "Robust Skin Weights Transfer via Weight Inpainting", SIGGRAPH Asia 2023
 * Technical Communications, section 3.2. The energy is trace(W' Q W) with Q = L + L M^-1 L, L the cotangent Laplacian
 * (positive here) and M the areas.
 */
public final class Inpainting {
    private static final double LEAST = 1e-4;

    private Inpainting() {}

    /**
     * @param rows  by place; only the known ones are read
     * @param known places whose rows hold
     * @return all rows, the filled ones without anything below zero and summing to one; places of pieces that have
     *     nothing known keep an empty row
     */
    public static Influences fill(WeldedSurface surface, Influences rows, BitSet known, int joints, Work work) {
        int n = surface.size();
        boolean[] reached = new boolean[surface.islandCount()];
        known.stream().forEach(p -> reached[surface.islandOf(p)] = true);
        int[] unknown = IntStream.range(0, n)
                .filter(p -> !known.get(p) && reached[surface.islandOf(p)])
                .toArray();
        float[][] filled = unknown.length == 0 ? new float[0][] : solve(surface, rows, known, unknown, joints, work);
        int[] at = new int[n];
        java.util.Arrays.fill(at, -1);
        for (int i = 0; i < unknown.length; i++) {
            at[unknown[i]] = i;
        }
        Influences.Builder out = new Influences.Builder(n);
        Row row = new Row();
        for (int p = 0; p < n; p++) {
            row.clear();
            if (known.get(p)) {
                out.copyRows(rows, p, p + 1);
                continue;
            }
            for (int j = 0; at[p] >= 0 && j < joints; j++) {
                if (filled[j] != null && filled[j][at[p]] > 0) {
                    row.append(j, filled[j][at[p]]);
                }
            }
            row.dropBelow(LEAST);
            row.normalise();
            row.to(out);
        }
        return out.build();
    }

    /** By joint the weight at every unknown place; null for joints that move nothing that is known. */
    private static float[][] solve(
            WeldedSurface surface, Influences rows, BitSet known, int[] unknown, int joints, Work work) {
        SparseSymmetric.Rows laplacian = surface.laplacian();
        SparseSymmetric.Rows energy = sum(laplacian, laplacian.squared(scaled(surface.areas())));
        work.stopIfCancelled();
        int[] place = new int[surface.size()];
        java.util.Arrays.fill(place, -1);
        for (int i = 0; i < unknown.length; i++) {
            place[unknown[i]] = i;
        }
        SparseSymmetric inner = new SparseSymmetric(unknown.length);
        for (int p : unknown) {
            for (int e = energy.starts()[p]; e < energy.starts()[p + 1]; e++) {
                int q = energy.columns()[e];
                if (place[q] >= 0 && q <= p) {
                    inner.add(place[p], place[q], energy.values()[e]);
                }
            }
            // A breath of a diagonal, for pieces whose triangles have no area.
            inner.add(place[p], place[p], 1e-9);
        }
        work.at(0.4, "");
        work.stopIfCancelled();
        SparseCholesky factored = SparseCholesky.of(inner.rows());
        if (factored == null) {
            throw new IllegalStateException("the surface cannot be factored");
        }
        double[][] right = new double[joints][];
        for (int p : unknown) {
            for (int e = energy.starts()[p]; e < energy.starts()[p + 1]; e++) {
                int q = energy.columns()[e];
                for (int i = rows.offsets()[q]; place[q] < 0 && known.get(q) && i < rows.offsets()[q + 1]; i++) {
                    int j = rows.joints()[i];
                    if (right[j] == null) {
                        right[j] = new double[unknown.length];
                    }
                    right[j][place[p]] -= energy.values()[e] * rows.weights()[i];
                }
            }
        }
        float[][] out = new float[joints][];
        IntStream.range(0, joints).parallel().filter(j -> right[j] != null).forEach(j -> {
            work.stopIfCancelled();
            double[] x = factored.solve(right[j]);
            out[j] = new float[x.length];
            for (int i = 0; i < x.length; i++) {
                out[j][i] = (float) Math.clamp(x[i], 0, 1);
            }
        });
        return out;
    }

    /** Areas against their mean, so that the two parts of the energy weigh the same whatever the unit. */
    private static double[] scaled(double[] areas) {
        double mean = java.util.Arrays.stream(areas).sum() / Math.max(1, areas.length);
        double[] out = new double[areas.length];
        for (int i = 0; i < out.length; i++) {
            out[i] = areas[i] / mean;
        }
        return out;
    }

    private static SparseSymmetric.Rows sum(SparseSymmetric.Rows a, SparseSymmetric.Rows b) {
        // The pattern of b holds that of a: a product with itself reaches what one step reaches, through the diagonal.
        double[] values = b.values().clone();
        for (int r = 0; r < a.size(); r++) {
            int at = b.starts()[r];
            for (int e = a.starts()[r]; e < a.starts()[r + 1]; e++) {
                while (b.columns()[at] != a.columns()[e]) {
                    at++;
                }
                values[at] += a.values()[e];
            }
        }
        return new SparseSymmetric.Rows(b.starts(), b.columns(), values);
    }
}
