package org.cleanmarrow.pose;

/**
 * Values of a few keys with which the even way between them comes nearest to all keys of a way, by least squares over all pieces at
 * once: a key's value counts in the two pieces that it ends, so the equations have three diagonals and are solved from one end to
 * the other (Conte and de Boor, Elementary Numerical Analysis, 4.2). The first and the last keep their values. Costs n.
 */
final class NearestKeys {
    private NearestKeys() {}

    /**
     * @param values rotations written so that each is near the one before
     * @param keys   which of the times have keys, at least three, the first and the last among them
     * @return values of those keys; not finite where any of the way is not
     */
    static float[] of(float[] times, float[] values, int width, boolean rotation, int[] keys) {
        int n = keys.length;
        double[] own = new double[n];
        double[] next = new double[n];
        double[][] right = new double[n][width];
        for (int i = 0; i + 1 < n; i++) {
            int from = keys[i];
            int to = keys[i + 1];
            EvenWay way = rotation ? EvenWay.turn(dot(values, width, from, to)) : EvenWay.STRAIGHT;
            double perSecond = 1 / ((double) times[to] - times[from]);
            for (int k = from; k < to; k++) {
                double share = ((double) times[k] - times[from]) * perSecond;
                double a = way.ofFirst(share);
                double b = way.ofLast(share);
                own[i] += a * a;
                own[i + 1] += b * b;
                next[i] += a * b;
                for (int j = 0; j < width; j++) {
                    right[i][j] += a * values[k * width + j];
                    right[i + 1][j] += b * values[k * width + j];
                }
            }
        }
        hold(0, values, width, keys, own, right);
        hold(n - 1, values, width, keys, own, right);
        for (int j = 0; j < width; j++) {
            right[1][j] -= next[0] * right[0][j];
            right[n - 2][j] -= next[n - 2] * right[n - 1][j];
        }
        solve(own, next, right, width);
        return written(right, width, rotation);
    }

    private static double dot(float[] values, int width, int a, int b) {
        double dot = 0;
        for (int j = 0; j < width; j++) {
            dot += (double) values[a * width + j] * values[b * width + j];
        }
        return Math.max(0, dot);
    }

    private static void hold(int key, float[] values, int width, int[] keys, double[] own, double[][] right) {
        own[key] = 1;
        for (int j = 0; j < width; j++) {
            right[key][j] = values[keys[key] * width + j];
        }
    }

    /** All but the ends, which are known and taken to the right side. */
    private static void solve(double[] own, double[] next, double[][] right, int width) {
        int last = own.length - 2;
        for (int i = 2; i <= last; i++) {
            double share = next[i - 1] / own[i - 1];
            own[i] -= share * next[i - 1];
            for (int j = 0; j < width; j++) {
                right[i][j] -= share * right[i - 1][j];
            }
        }
        for (int i = last; i >= 1; i--) {
            for (int j = 0; j < width; j++) {
                double above = i < last ? next[i] * right[i + 1][j] : 0;
                right[i][j] = (right[i][j] - above) / own[i];
            }
        }
    }

    private static float[] written(double[][] values, int width, boolean rotation) {
        float[] out = new float[values.length * width];
        for (int i = 0; i < values.length; i++) {
            double square = 0;
            for (double v : values[i]) {
                square += v * v;
            }
            double scale = rotation ? 1 / Math.sqrt(square) : 1;
            for (int j = 0; j < width; j++) {
                out[i * width + j] = (float) (values[i][j] * scale);
            }
        }
        if (rotation) {
            Baker.alongTheShorterWay(out);
        }
        return out;
    }
}
