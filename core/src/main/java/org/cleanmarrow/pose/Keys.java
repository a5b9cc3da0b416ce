package org.cleanmarrow.pose;

import java.util.Arrays;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;

/** Values between keys, to the letter of glTF 2.0, appendix C. Outside the keys the first or last value holds. */
public final class Keys {
    /** Of the arcsine's series, from the eleventh power down to the third. */
    private static final double[] ARCSINE = {945 / 42240.0, 105 / 3456.0, 15 / 336.0, 3 / 40.0, 1 / 6.0};

    /** How near keys must keep to a value to be it. */
    private static final double SAME = 1e-6;

    private Keys() {}

    /**
     * Samples a sampler that is not a rotation.
     *
     * @param out receives {@code sampler.width()} numbers
     */
    public static void sample(Sampler sampler, double seconds, double[] out) {
        int width = sampler.width();
        float[] times = sampler.times();
        float[] values = sampler.values();
        int key = keyBefore(times, seconds);
        if (key < 0 || key == times.length - 1 || sampler.interpolation() == Sampler.Interpolation.STEP) {
            copyValue(sampler, Math.max(key, 0), out);
            return;
        }
        double span = (double) times[key + 1] - times[key];
        double u = (seconds - times[key]) / span;
        if (sampler.interpolation() == Sampler.Interpolation.LINEAR) {
            for (int i = 0; i < width; i++) {
                double a = values[key * width + i];
                out[i] = a + u * (values[(key + 1) * width + i] - a);
            }
            return;
        }
        cubic(sampler, key, u, span, out);
    }

    /**
     * Samples a rotation: spherical along the shorter way for linear keys, normalised for cubic ones. Float keys
     * are taken as they are stored; they should be of unit length, and then so is the result. Quantised ones are brought to it.
     *
     * @param out receives x, y, z, w
     */
    public static void sampleRotation(Sampler sampler, double seconds, double[] out) {
        asStored(sampler, seconds, out);
        if (sampler.storage() != Storage.FLOAT) {
            // Whole numbers cannot hold a unit quaternion, and a rotation does not scale.
            normalise(out);
        }
    }

    private static void asStored(Sampler sampler, double seconds, double[] out) {
        if (sampler.interpolation() != Sampler.Interpolation.LINEAR) {
            sample(sampler, seconds, out);
            if (sampler.interpolation() == Sampler.Interpolation.CUBICSPLINE) {
                normalise(out);
            }
            return;
        }
        float[] times = sampler.times();
        int key = keyBefore(times, seconds);
        if (key < 0 || key == times.length - 1) {
            copyValue(sampler, Math.max(key, 0), out);
            return;
        }
        double u = (seconds - times[key]) / ((double) times[key + 1] - times[key]);
        slerp(sampler.values(), key * 4, u, out);
    }

    /** True where keys never leave a value by more than a millionth, so that they are no motion. */
    public static boolean holds(Sampler keys, float[] value) {
        int width = value.length;
        boolean cubic = keys.interpolation() == Sampler.Interpolation.CUBICSPLINE;
        for (int at = 0, part = 0; at + width <= keys.values().length; at += width, part++) {
            boolean tangent = cubic && part % 3 != 1;
            for (int i = 0; i < width; i++) {
                float wanted = tangent ? 0 : value[i];
                if (!(Math.abs(keys.values()[at + i] - wanted) <= SAME * Math.max(1e-3, Math.abs(value[i])))) {
                    return false;
                }
            }
        }
        return true;
    }

    private static void slerp(float[] q, int at, double u, double[] out) {
        if (java.util.Arrays.equals(q, at, at + 4, q, at + 4, at + 8)) {
            // Between equal keys nothing turns, whatever their length.
            for (int i = 0; i < 4; i++) {
                out[i] = q[at + i];
            }
            return;
        }
        double dot = 0;
        for (int i = 0; i < 4; i++) {
            dot += (double) q[at + i] * q[at + 4 + i];
        }
        double sign = dot < 0 ? -1 : 1;
        double cosine = Math.min(1, Math.abs(dot));
        double a = 1 - u;
        double b = u;
        if (cosine < 1 - 1e-9) {
            double angle = angle(cosine);
            double sine = Math.sin(angle);
            a = Math.sin(angle * (1 - u)) / sine;
            b = Math.sin(angle * u) / sine;
        }
        for (int i = 0; i < 4; i++) {
            out[i] = a * q[at + i] + b * sign * q[at + 4 + i];
        }
    }

    /** The angle of a cosine from 0 to 1: by the series of the sine of its half where that is small, which is as exact and quicker. */
    static double angle(double cosine) {
        double square = (1 - cosine) / 2;
        if (square > 0.01) {
            return Math.acos(cosine);
        }
        double sum = 10395 / 599040.0;
        for (double term : ARCSINE) {
            sum = term + square * sum;
        }
        return 2 * Math.sqrt(square) * (1 + square * sum);
    }

    private static void cubic(Sampler sampler, int key, double t, double span, double[] out) {
        int w = sampler.width();
        float[] v = sampler.values();
        int a = key * 3 * w;
        int b = a + 3 * w;
        double t2 = t * t;
        double t3 = t2 * t;
        for (int i = 0; i < w; i++) {
            out[i] = (2 * t3 - 3 * t2 + 1) * v[a + w + i]
                    + span * (t3 - 2 * t2 + t) * v[a + 2 * w + i]
                    + (-2 * t3 + 3 * t2) * v[b + w + i]
                    + span * (t3 - t2) * v[b + i];
        }
    }

    /**
     * Value and slope of a cubic spline, not normalised for rotations: with the slope as both tangents a key put there leaves
     * the curve as it is. Outside the keys the slope is 0.
     *
     * @param value receives {@code sampler.width()} numbers
     * @param slope receives as many, a second
     */
    public static void curve(Sampler sampler, double seconds, double[] value, double[] slope) {
        float[] times = sampler.times();
        int key = keyBefore(times, seconds);
        Arrays.fill(slope, 0);
        if (key < 0 || key == times.length - 1) {
            copyValue(sampler, Math.max(key, 0), value);
            return;
        }
        double span = (double) times[key + 1] - times[key];
        double t = (seconds - times[key]) / span;
        cubic(sampler, key, t, span, value);
        int w = sampler.width();
        float[] v = sampler.values();
        int a = key * 3 * w;
        int b = a + 3 * w;
        for (int i = 0; i < w; i++) {
            slope[i] = (6 * t * t - 6 * t) / span * (v[a + w + i] - (double) v[b + w + i])
                    + (3 * t * t - 4 * t + 1) * v[a + 2 * w + i]
                    + (3 * t * t - 2 * t) * v[b + i];
        }
    }

    private static void copyValue(Sampler sampler, int key, double[] out) {
        int w = sampler.width();
        int at = sampler.interpolation() == Sampler.Interpolation.CUBICSPLINE ? key * 3 * w + w : key * w;
        for (int i = 0; i < w; i++) {
            out[i] = sampler.values()[at + i];
        }
    }

    /** Last key at or before a time; -1 before the first. */
    private static int keyBefore(float[] times, double seconds) {
        // The caller's time often comes from a float key; comparing as float makes such a time hit it exactly.
        int found = Arrays.binarySearch(times, (float) seconds);
        return found >= 0 ? found : -found - 2;
    }

    private static void normalise(double[] q) {
        double length = Math.sqrt(q[0] * q[0] + q[1] * q[1] + q[2] * q[2] + q[3] * q[3]);
        if (length == 0) {
            q[3] = 1;
            return;
        }
        for (int i = 0; i < 4; i++) {
            q[i] /= length;
        }
    }
}
