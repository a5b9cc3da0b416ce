package org.cleanmarrow.picture;

/** Between linear light and what pictures of colour hold (IEC 61966-2-1; glTF 2.0, 3.9.2): parts of one, both ways. */
public final class Srgb {
    private Srgb() {}

    /** Light below 0 is none, over 1 is 1. */
    public static double encoded(double linear) {
        double c = Math.clamp(linear, 0, 1);
        return c <= 0.0031308 ? 12.92 * c : 1.055 * Math.pow(c, 1 / 2.4) - 0.055;
    }

    public static double linear(double encoded) {
        return encoded <= 0.04045 ? encoded / 12.92 : Math.pow((encoded + 0.055) / 1.055, 2.4);
    }
}
