package org.cleanmarrow.linear;

import java.util.Arrays;
import org.ejml.data.DMatrixSparseCSC;
import org.ejml.sparse.csc.decomposition.chol.CholeskyUpLooking_DSCC;
import org.jspecify.annotations.Nullable;

/** A positive definite sparse matrix, factored once (Cholesky), to be solved for many right sides. */
public final class SparseCholesky {
    private final int[] order;
    private final int[] starts;
    private final int[] rows;
    private final double[] values;

    private SparseCholesky(int[] order, DMatrixSparseCSC lower) {
        this.order = order;
        starts = Arrays.copyOf(lower.col_idx, lower.numCols + 1);
        rows = lower.nz_rows;
        values = lower.nz_values;
    }

    /** Null where the matrix is not positive definite. */
    public static @Nullable SparseCholesky of(SparseSymmetric.Rows matrix) {
        int n = matrix.size();
        int[] order = NestedDissection.order(matrix.starts(), matrix.columns());
        int[] place = new int[n];
        for (int i = 0; i < n; i++) {
            place[order[i]] = i;
        }
        DMatrixSparseCSC sorted = new DMatrixSparseCSC(n, n, matrix.columns().length);
        int end = 0;
        long[] column = new long[n];
        for (int c = 0; c < n; c++) {
            int r = order[c];
            int many = 0;
            for (int e = matrix.starts()[r]; e < matrix.starts()[r + 1]; e++) {
                column[many++] = (long) place[matrix.columns()[e]] << 32 | e;
            }
            Arrays.sort(column, 0, many);
            for (int i = 0; i < many; i++) {
                sorted.nz_rows[end] = (int) (column[i] >> 32);
                sorted.nz_values[end++] = matrix.values()[(int) column[i]];
            }
            sorted.col_idx[c + 1] = end;
        }
        sorted.nz_length = end;
        sorted.indicesSorted = true;
        CholeskyUpLooking_DSCC cholesky = new CholeskyUpLooking_DSCC();
        if (!cholesky.decompose(sorted)) {
            return null;
        }
        return new SparseCholesky(order, cholesky.getL());
    }

    /** Entries that the factor has. */
    public int entries() {
        return starts[starts.length - 1];
    }

    /** The solution for one right side; safe to be asked by many threads at once. */
    public double[] solve(double[] right) {
        int n = order.length;
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            y[i] = right[order[i]];
        }
        for (int c = 0; c < n; c++) {
            int e = starts[c];
            double at = y[c] /= values[e];
            for (e++; e < starts[c + 1]; e++) {
                y[rows[e]] -= values[e] * at;
            }
        }
        for (int c = n - 1; c >= 0; c--) {
            double sum = y[c];
            for (int e = starts[c] + 1; e < starts[c + 1]; e++) {
                sum -= values[e] * y[rows[e]];
            }
            y[c] = sum / values[starts[c]];
        }
        double[] out = new double[n];
        for (int i = 0; i < n; i++) {
            out[order[i]] = y[i];
        }
        return out;
    }
}
