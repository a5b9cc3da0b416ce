package org.cleanmarrow.linear;

import java.util.Arrays;

/** A sparse symmetric matrix while it is put together: entries named several times add up. */
public final class SparseSymmetric {
    private final int size;
    private int[] rows = new int[1024];
    private int[] columns = new int[1024];
    private double[] values = new double[1024];
    private int count;

    public SparseSymmetric(int size) {
        this.size = size;
    }

    public int size() {
        return size;
    }

    /** Adds to an entry and its mirror image; a diagonal entry is added to once. */
    public void add(int row, int column, double value) {
        if (count == values.length) {
            rows = Arrays.copyOf(rows, count * 2);
            columns = Arrays.copyOf(columns, count * 2);
            values = Arrays.copyOf(values, count * 2);
        }
        rows[count] = Math.max(row, column);
        columns[count] = Math.min(row, column);
        values[count++] = value;
    }

    /** The whole matrix by rows, both triangles, each row rising. */
    public Rows rows() {
        int[] starts = new int[size + 1];
        for (int i = 0; i < count; i++) {
            starts[rows[i] + 1]++;
            if (rows[i] != columns[i]) {
                starts[columns[i] + 1]++;
            }
        }
        for (int r = 0; r < size; r++) {
            starts[r + 1] += starts[r];
        }
        int[] next = Arrays.copyOf(starts, size);
        long[] at = new long[starts[size]];
        double[] value = new double[starts[size]];
        for (int i = 0; i < count; i++) {
            put(rows[i], columns[i], i, next, at, value);
            if (rows[i] != columns[i]) {
                put(columns[i], rows[i], i, next, at, value);
            }
        }
        return Rows.summed(starts, at, value);
    }

    private void put(int row, int column, int i, int[] next, long[] at, double[] value) {
        int place = next[row]++;
        // The column above, so that sorting a row sorts by column; where the value is, below.
        at[place] = (long) column << 32 | place;
        value[place] = values[i];
    }

    /**
     * A sparse matrix by rows.
     *
     * @param starts  where each row begins; one more than there are rows
     * @param columns rising within a row
     */
    public record Rows(int[] starts, int[] columns, double[] values) {
        static Rows summed(int[] starts, long[] at, double[] value) {
            int size = starts.length - 1;
            int[] begins = new int[size + 1];
            int[] columns = new int[at.length];
            double[] values = new double[at.length];
            int end = 0;
            for (int r = 0; r < size; r++) {
                Arrays.sort(at, starts[r], starts[r + 1]);
                for (int e = starts[r]; e < starts[r + 1]; e++) {
                    int column = (int) (at[e] >> 32);
                    double v = value[(int) at[e]];
                    if (end > begins[r] && columns[end - 1] == column) {
                        values[end - 1] += v;
                    } else {
                        columns[end] = column;
                        values[end++] = v;
                    }
                }
                begins[r + 1] = end;
            }
            return new Rows(begins, Arrays.copyOf(columns, end), Arrays.copyOf(values, end));
        }

        public int size() {
            return starts.length - 1;
        }

        /** This times a vector. */
        public double[] times(double[] x) {
            double[] out = new double[size()];
            for (int r = 0; r < out.length; r++) {
                double sum = 0;
                for (int e = starts[r]; e < starts[r + 1]; e++) {
                    sum += values[e] * x[columns[e]];
                }
                out[r] = sum;
            }
            return out;
        }

        /** This, with each row first divided by a number, times this again: {@code A D^-1 A} for a symmetric A. */
        public Rows squared(double[] divisors) {
            int n = size();
            int[] begins = new int[n + 1];
            int[] cols = new int[columns.length * 4];
            double[] vals = new double[cols.length];
            double[] sums = new double[n];
            int[] mark = new int[n];
            int[] touched = new int[n];
            Arrays.fill(mark, -1);
            int end = 0;
            for (int r = 0; r < n; r++) {
                int many = 0;
                for (int e = starts[r]; e < starts[r + 1]; e++) {
                    int k = columns[e];
                    double by = values[e] / divisors[k];
                    for (int f = starts[k]; f < starts[k + 1]; f++) {
                        int c = columns[f];
                        if (mark[c] != r) {
                            mark[c] = r;
                            sums[c] = 0;
                            touched[many++] = c;
                        }
                        sums[c] += by * values[f];
                    }
                }
                Arrays.sort(touched, 0, many);
                if (end + many > cols.length) {
                    cols = Arrays.copyOf(cols, Math.max(end + many, cols.length * 2));
                    vals = Arrays.copyOf(vals, cols.length);
                }
                for (int i = 0; i < many; i++) {
                    cols[end] = touched[i];
                    vals[end++] = sums[touched[i]];
                }
                begins[r + 1] = end;
            }
            return new Rows(begins, Arrays.copyOf(cols, end), Arrays.copyOf(vals, end));
        }
    }
}
