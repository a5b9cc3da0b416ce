package org.cleanmarrow.model;

/**
 * Keys over time. May be shared by channels, as it was in the file.
 *
 * @param times  seconds, rising, at least one
 * @param values {@code width} numbers a key; for cubic splines in-tangent, value and out-tangent, 3 x width a key
 * @param width  numbers a value (3 for translation and scale, 4 for rotation, target count for weights)
 */
public record Sampler(Interpolation interpolation, float[] times, float[] values, int width, Storage storage)
        implements Track {
    /** How values between keys are found (glTF 2.0, appendix C). */
    public enum Interpolation {
        STEP,
        LINEAR,
        CUBICSPLINE
    }

    public Sampler withValues(float[] changed) {
        return new Sampler(interpolation, times, changed, width, Storage.FLOAT);
    }

    @Override
    public void at(int key, float[] out) {
        int first = interpolation == Interpolation.CUBICSPLINE ? width : 0;
        System.arraycopy(values, key * stride() + first, out, 0, width);
    }

    /** Numbers stored a key. */
    public int stride() {
        return interpolation == Interpolation.CUBICSPLINE ? 3 * width : width;
    }
}
