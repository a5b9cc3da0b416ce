package org.cleanmarrow.kit;

import java.util.ArrayList;
import java.util.List;

/** What textbooks say of bodies. */
public final class Mechanics {
    /** Standard gravity (3rd General Conference on Weights and Measures, 1901). */
    public static final double G = 9.80665;

    private Mechanics() {}

    /**
     * Period of a pendulum: 2 pi sqrt(length / g) over the mean of Gauss of 1 and the cosine of half the angle.
     *
     * @param length metres; of a body its moment of inertia over mass and arm
     * @param angle  that it is let go at, radians
     */
    public static double period(double length, double angle) {
        double a = 1;
        double b = Math.cos(angle / 2);
        for (int i = 0; i < 8; i++) {
            double mean = (a + b) / 2;
            b = Math.sqrt(a * b);
            a = mean;
        }
        return 2 * Math.PI * Math.sqrt(length / G) / a;
    }

    /** The time between its first and third crossing of zero, by lines between samples. */
    public static double period(double[] samples, double rate) {
        List<Double> crossings = new ArrayList<>();
        for (int k = 1; k < samples.length; k++) {
            double was = samples[k - 1];
            double is = samples[k];
            if (was < 0 != is < 0) {
                crossings.add((k - 1 + was / (was - is)) / rate);
            }
        }
        return crossings.get(2) - crossings.getFirst();
    }
}
