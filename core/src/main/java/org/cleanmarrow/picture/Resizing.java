package org.cleanmarrow.picture;

import java.util.Arrays;

/** Averages the pixels of a picture into those of another size; one row of the larger and all of the smaller at a time. */
final class Resizing {
    /** From eight bits to linear light. */
    private static final float[] LIGHT = new float[256];

    static {
        for (int i = 0; i < LIGHT.length; i++) {
            LIGHT[i] = (float) Srgb.linear(i / 255.0);
        }
    }

    private Resizing() {}

    /** From each place along a side, which of the other side's places it is made of, and how much of each. */
    private record Shares(int[] first, float[][] share) {
        static Shares of(int from, int to) {
            int[] first = new int[to];
            float[][] share = new float[to][];
            double step = from / (double) to;
            for (int i = 0; i < to; i++) {
                if (from > to) {
                    double begin = i * step;
                    double end = Math.min(from, begin + step);
                    first[i] = (int) begin;
                    share[i] = new float[(int) Math.ceil(end) - first[i]];
                    for (int k = 0; k < share[i].length; k++) {
                        double covered = Math.min(end, first[i] + k + 1) - Math.max(begin, first[i] + k);
                        share[i][k] = (float) (covered / step);
                    }
                } else {
                    double middle = Math.clamp((i + 0.5) * step - 0.5, 0, from - 1);
                    first[i] = (int) middle;
                    float over = (float) (middle - first[i]);
                    share[i] = over == 0 ? new float[] {1} : new float[] {1 - over, over};
                }
            }
            return new Shares(first, share);
        }
    }

    static void resize(Raw from, Raw to, Pixels.Kind kind) {
        int width = to.width();
        Shares across = Shares.of(from.width(), width);
        Shares down = Shares.of(from.height(), to.height());
        int[] row = new int[from.width()];
        float[] wide = new float[4 * row.length];
        float[] sum = new float[4 * width];
        int[] out = new int[width];
        for (int y = 0; y < to.height(); y++) {
            Arrays.fill(sum, 0);
            for (int k = 0; k < down.share[y].length; k++) {
                from.row(down.first[y] + k, row);
                for (int x = 0; x < row.length; x++) {
                    decode(row[x], wide, 4 * x, kind);
                }
                for (int x = 0; x < width; x++) {
                    add(wide, across.first[x], across.share[x], down.share[y][k], sum, 4 * x);
                }
            }
            for (int x = 0; x < width; x++) {
                out[x] = encode(sum, 4 * x, kind);
            }
            to.setRow(y, out);
        }
    }

    private static void add(float[] row, int first, float[] share, float weight, float[] sum, int at) {
        for (int i = 0; i < share.length; i++) {
            for (int c = 0; c < 4; c++) {
                sum[at + c] += weight * share[i] * row[4 * (first + i) + c];
            }
        }
    }

    /** Red, green, blue and opacity; colours weighed by their opacity, so that what cannot be seen does not shine through. */
    private static void decode(int argb, float[] into, int at, Pixels.Kind kind) {
        float opacity = (argb >>> 24) / 255f;
        for (int c = 0; c < 3; c++) {
            int eight = argb >> 8 * (2 - c) & 0xFF;
            into[at + c] = kind == Pixels.Kind.COLOUR ? LIGHT[eight] * opacity : eight / 255f;
        }
        into[at + 3] = opacity;
    }

    private static int encode(float[] sum, int at, Pixels.Kind kind) {
        float opacity = sum[at + 3];
        double[] c = {sum[at], sum[at + 1], sum[at + 2]};
        switch (kind) {
            case COLOUR -> {
                for (int i = 0; i < 3; i++) {
                    c[i] = opacity > 0 ? Srgb.encoded(c[i] / opacity) : 0;
                }
            }
            case NORMALS -> {
                double x = 2 * c[0] - 1;
                double y = 2 * c[1] - 1;
                double z = 2 * c[2] - 1;
                double length = Math.sqrt(x * x + y * y + z * z);
                if (length > 1e-6) {
                    c = new double[] {(x / length + 1) / 2, (y / length + 1) / 2, (z / length + 1) / 2};
                }
            }
            case DATA -> {}
        }
        return eight(opacity) << 24 | eight(c[0]) << 16 | eight(c[1]) << 8 | eight(c[2]);
    }

    private static int eight(double part) {
        return (int) Math.round(255 * Math.clamp(part, 0, 1));
    }
}
