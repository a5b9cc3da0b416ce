package org.cleanmarrow.pose;

/**
 * A low-pass filter without delay: Butterworth's of the second order, run forwards and then backwards over even samples, the ends
 * mirrored about themselves, as is usual for recorded motion (Winter, Biomechanics and Motor Control of Human Movement, 2.2.4.4).
 * At its frequency half the power is left after both passes.
 *
 * <p>Cost: a few operations a number.
 */
public final class LowPass {
    /** What both passes together take from the frequency: the fourth root of the square root of 2 less 1. */
    private static final double TWICE = Math.pow(Math.sqrt(2) - 1, 0.25);

    private static final int MIRRORED = 9;

    private final double[] b = new double[3];
    private final double[] a = new double[3];

    /**
     * For one frequency.
     *
     * @param hertz over 0
     * @param rate  samples a second, more than twice the frequency
     */
    public LowPass(double hertz, double rate) {
        double w = Math.tan(Math.PI * hertz / rate) / TWICE;
        double whole = 1 + Math.sqrt(2) * w + w * w;
        b[0] = w * w / whole;
        b[1] = 2 * b[0];
        b[2] = b[0];
        a[0] = 1;
        a[1] = 2 * (w * w - 1) / whole;
        a[2] = (1 - Math.sqrt(2) * w + w * w) / whole;
    }

    /** The samples filtered; as they are where there are fewer than two. */
    public double[] of(double[] samples) {
        int n = samples.length;
        if (n < 2) {
            return samples.clone();
        }
        int more = Math.min(MIRRORED, n - 1);
        double[] longer = new double[n + 2 * more];
        System.arraycopy(samples, 0, longer, more, n);
        for (int i = 1; i <= more; i++) {
            longer[more - i] = 2 * samples[0] - samples[i];
            longer[more + n - 1 + i] = 2 * samples[n - 1] - samples[n - 1 - i];
        }
        reverse(pass(longer));
        reverse(pass(longer));
        return java.util.Arrays.copyOfRange(longer, more, more + n);
    }

    /** One pass over the samples in place, begun as if the first had always been. */
    private double[] pass(double[] x) {
        double second = (b[2] - a[2]) * x[0];
        double first = (b[1] - a[1]) * x[0] + second;
        for (int i = 0; i < x.length; i++) {
            double in = x[i];
            double out = b[0] * in + first;
            first = b[1] * in - a[1] * out + second;
            second = b[2] * in - a[2] * out;
            x[i] = out;
        }
        return x;
    }

    private static void reverse(double[] x) {
        for (int i = 0, j = x.length - 1; i < j; i++, j--) {
            double t = x[i];
            x[i] = x[j];
            x[j] = t;
        }
    }
}
