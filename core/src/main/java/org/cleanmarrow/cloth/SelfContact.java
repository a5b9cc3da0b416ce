package org.cleanmarrow.cloth;

import java.util.Arrays;

/**
 * Keeps the points of a cloth apart from each other. They are balls: as far apart as edges are long in the mean, or as the cloth is
 * thick where that is more, since between smaller ones other points would slip through; what lies nearer where the cloth begins is
 * left as near. Pairs that could meet are found by a grid (Teschner and others 2003), anew whenever points may have moved by half
 * of that distance, and parted at every substep.
 */
final class SelfContact {
    /** Balls thicker than so many edges would each meet all others. */
    private static final double MOST_EDGES = 4;

    private static final int MOST_A_POINT = 256;

    private final Sheet sheet;
    private final double apart;
    private final double[] begins;
    private int[] pairs = new int[0];
    private int count;
    /** How far any point may have gone since pairs were looked for. */
    private double gone = Double.POSITIVE_INFINITY;

    SelfContact(Sheet sheet, double thickness, double[] begins) {
        this.sheet = sheet;
        this.begins = begins.clone();
        double edge = Arrays.stream(sheet.lengths()).average().orElse(0);
        apart = Math.clamp(thickness, edge, MOST_EDGES * edge);
    }

    /** Parts those that are too near. @param h seconds since it was asked before */
    void part(double[] at, double[] speed, double h) {
        gone += h * fastest(speed);
        if (!(gone < apart / 2)) {
            look(at);
            gone = 0;
        }
        double[] w = sheet.weights();
        for (int i = 0; i < count; i++) {
            int a = pairs[2 * i];
            int b = pairs[2 * i + 1];
            double length = Sheet.distance(at, a, b);
            double least = Math.min(apart, Sheet.distance(begins, a, b));
            if (length >= least || length == 0) {
                continue;
            }
            double by = (least - length) / ((w[a] + w[b]) * length);
            for (int k = 0; k < 3; k++) {
                double d = at[3 * a + k] - at[3 * b + k];
                at[3 * a + k] += w[a] * by * d;
                at[3 * b + k] -= w[b] * by * d;
            }
        }
    }

    private double fastest(double[] speed) {
        double most = 0;
        for (int p = 0; p < sheet.size(); p++) {
            double x = speed[3 * p];
            double y = speed[3 * p + 1];
            double z = speed[3 * p + 2];
            most = Math.max(most, x * x + y * y + z * z);
        }
        return Math.sqrt(most);
    }

    private void look(double[] at) {
        count = 0;
        double reach = 2 * apart;
        if (!(reach > 0)) {
            return;
        }
        Grid grid = new Grid(at, sheet.size(), reach);
        for (int p = 0; p < sheet.size(); p++) {
            grid.after(p, (a, b) -> {
                if (Sheet.distance(at, a, b) < reach && sheet.weights()[a] + sheet.weights()[b] > 0) {
                    add(a, b);
                }
            });
        }
    }

    private void add(int a, int b) {
        if (count >= MOST_A_POINT * (long) sheet.size()) {
            return;
        }
        if (2 * count == pairs.length) {
            pairs = Arrays.copyOf(pairs, Math.max(64, 2 * pairs.length));
        }
        pairs[2 * count] = a;
        pairs[2 * count + 1] = b;
        count++;
    }

    private interface Pair {
        void found(int a, int b);
    }

    /** Points by cells of a side, in a table; points of one slot in rising order. */
    private static final class Grid {
        private final double side;
        private final double[] at;
        private final int[] starts;
        private final int[] points;

        Grid(double[] at, int count, double side) {
            this.at = at;
            this.side = side;
            int size = Integer.highestOneBit(Math.max(16, count)) * 2;
            starts = new int[size + 1];
            for (int p = 0; p < count; p++) {
                starts[slot(p, 0, 0, 0) + 1]++;
            }
            for (int s = 0; s < size; s++) {
                starts[s + 1] += starts[s];
            }
            points = new int[count];
            int[] next = starts.clone();
            for (int p = 0; p < count; p++) {
                points[next[slot(p, 0, 0, 0)]++] = p;
            }
        }

        private int slot(int p, int dx, int dy, int dz) {
            long x = (long) Math.floor(at[3 * p] / side) + dx;
            long y = (long) Math.floor(at[3 * p + 1] / side) + dy;
            long z = (long) Math.floor(at[3 * p + 2] / side) + dz;
            long h = x * 92837111 ^ y * 689287499 ^ z * 283923481;
            return (int) ((h ^ h >>> 17) & starts.length - 2);
        }

        /** Those of a higher number in the cells around; each once. */
        void after(int p, Pair to) {
            int[] seen = new int[27];
            int many = 0;
            for (int i = 0; i < 27; i++) {
                int slot = slot(p, i % 3 - 1, i / 3 % 3 - 1, i / 9 - 1);
                boolean again = false;
                for (int k = 0; k < many; k++) {
                    again |= seen[k] == slot;
                }
                if (again) {
                    continue;
                }
                seen[many++] = slot;
                for (int k = starts[slot]; k < starts[slot + 1]; k++) {
                    if (points[k] > p) {
                        to.found(p, points[k]);
                    }
                }
            }
        }
    }
}
