package org.cleanmarrow.pose;

/** How much of its two ends an even way takes at each share of it: a straight one, or a turn (slerp, glTF 2.0, appendix C). */
final class EvenWay {
    /** Turns below which sines are taken from their series, which is as exact and much quicker: it is asked of every key of a take. */
    private static final double SMALL = 0.6;
    /** Of the sine's series, from the eleventh power down to the first. */
    private static final double[] SINE = {-1 / 39916800.0, 1 / 362880.0, -1 / 5040.0, 1 / 120.0, -1 / 6.0, 1};

    /** After what it is made with. */
    static final EvenWay STRAIGHT = new EvenWay(0);

    private final double angle;
    private final double perSine;

    private EvenWay(double angle) {
        this.angle = angle;
        perSine = 1 / sine(angle);
    }

    /** @param cosine product of the two unit quaternions, not below 0 */
    static EvenWay turn(double cosine) {
        double most = Math.min(1, cosine);
        return most < 1 - 1e-9 ? new EvenWay(Keys.angle(most)) : STRAIGHT;
    }

    double ofFirst(double share) {
        return angle == 0 ? 1 - share : sine(angle * (1 - share)) * perSine;
    }

    double ofLast(double share) {
        return angle == 0 ? share : sine(angle * share) * perSine;
    }

    private double sine(double x) {
        if (angle > SMALL) {
            return Math.sin(x);
        }
        double square = x * x;
        double sum = 1 / 6227020800.0;
        for (double term : SINE) {
            sum = term + square * sum;
        }
        return x * sum;
    }
}
