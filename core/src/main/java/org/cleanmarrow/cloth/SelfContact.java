package org.cleanmarrow.cloth;

import java.util.Arrays;

/**
 * Keeps the points of a cloth apart from each other: pairs that could meet within a frame are found once in it by a grid
 * (Teschner and others 2003) and parted at every substep. Points that lie nearer at rest than the thickness are left as near.
 */
final class SelfContact {
    private final Sheet sheet;
    private final double thickness;
    private final double[] rest;
    private int[] pairs = new int[0];
    private int count;

    SelfContact(Sheet sheet, double thickness, double[] rest) {
        this.sheet = sheet;
        this.thickness = thickness;
        this.rest = rest.clone();
    }

    /** Finds what could meet. */
    void look(double[] at, double[] speed, double seconds) {
        double most = 0;
        for (int p = 0; p < sheet.size(); p++) {
            double x = speed[3 * p];
            double y = speed[3 * p + 1];
            double z = speed[3 * p + 2];
            most = Math.max(most, x * x + y * y + z * z);
        }
        // Beyond twice the thickness a frame the cloth has to be looked at in shorter frames, or it grows too dear.
        double reach = thickness * (1 + Math.min(2, 2 * Math.sqrt(most) * seconds / thickness));
        count = 0;
        if (!(reach > 0)) {
            return;
        }
        Grid grid = new Grid(at, sheet.size(), reach);
        for (int p = 0; p < sheet.size(); p++) {
            grid.after(p, (a, b) -> {
                if (distance(at, a, b) < reach && sheet.weights()[a] + sheet.weights()[b] > 0) {
                    add(a, b);
                }
            });
        }
    }

    private void add(int a, int b) {
        if (2 * count == pairs.length) {
            pairs = Arrays.copyOf(pairs, Math.max(64, 2 * pairs.length));
        }
        pairs[2 * count] = a;
        pairs[2 * count + 1] = b;
        count++;
    }

    private static double distance(double[] at, int a, int b) {
        return Sheet.distance(at, a, b);
    }

    /** Parts those that are too near. */
    void part(double[] at) {
        double[] w = sheet.weights();
        for (int i = 0; i < count; i++) {
            int a = pairs[2 * i];
            int b = pairs[2 * i + 1];
            double length = distance(at, a, b);
            double apart = Math.min(thickness, distance(rest, a, b));
            if (length >= apart || length == 0) {
                continue;
            }
            double by = (apart - length) / ((w[a] + w[b]) * length);
            for (int k = 0; k < 3; k++) {
                double d = at[3 * a + k] - at[3 * b + k];
                at[3 * a + k] += w[a] * by * d;
                at[3 * b + k] -= w[b] * by * d;
            }
        }
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
