package org.cleanmarrow.retarget;

import org.joml.Vector3d;

/**
 * When a foot stands: slow and near its lowest place, with other bounds for beginning than for ending, so that noise makes no
 * steps of its own. All bounds are shares of the leg's length (from memory).
 */
final class Planted {
    private static final double SLOW = 0.2;
    private static final double FAST = 0.4;
    private static final double LOW = 0.06;
    private static final double HIGH = 0.12;
    private static final int EASE = 5;

    private Planted() {}

    /**
     * How far a foot is to be held on each frame: 1 while it stands, less over a few frames before and after, otherwise 0.
     *
     * @param way  its places, a frame each
     * @param up   length one
     * @param leg  length of the leg
     * @param rate frames a second
     */
    static double[] held(Vector3d[] way, Vector3d up, double leg, double rate) {
        int n = way.length;
        double floor = Double.POSITIVE_INFINITY;
        for (Vector3d p : way) {
            floor = Math.min(floor, p.dot(up));
        }
        boolean[] stands = new boolean[n];
        for (int f = 0; f < n; f++) {
            Vector3d before = way[Math.max(0, f - 1)];
            Vector3d after = way[Math.min(n - 1, f + 1)];
            int frames = Math.min(n - 1, f + 1) - Math.max(0, f - 1);
            double speed = frames == 0 ? 0 : after.distance(before) * rate / frames / leg;
            double height = (way[f].dot(up) - floor) / leg;
            boolean stood = f > 0 && stands[f - 1];
            stands[f] = stood ? speed < FAST && height < HIGH : speed < SLOW && height < LOW;
        }
        double[] out = new double[n];
        for (int f = 0; f < n; f++) {
            int nearest = EASE;
            for (int i = Math.max(0, f - EASE); i <= Math.min(n - 1, f + EASE); i++) {
                nearest = stands[i] ? Math.min(nearest, Math.abs(i - f)) : nearest;
            }
            double u = 1 - (double) nearest / EASE;
            out[f] = u * u * (3 - 2 * u);
        }
        return out;
    }
}
