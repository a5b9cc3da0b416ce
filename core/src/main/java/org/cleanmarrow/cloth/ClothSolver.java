package org.cleanmarrow.cloth;

import java.util.List;
import org.cleanmarrow.work.Work;

/**
 * Moves a cloth on by extended position-based dynamics (Macklin, Müller and Chentanez 2016), with one round of constraints a
 * substep (Macklin and others 2019), tethers to the nearest pin (Kim, Chentanez and Müller 2012), and friction by positions.
 * The order of all arithmetic is fixed: twice the same input gives twice the same bits. In metres, kilograms and seconds.
 *
 * <p>Not for several threads.
 */
final class ClothSolver {
    private static final double GRAVITY = 9.80665;

    /**
     * Every constraint goes this much less than all the way. One round leaves some of it, which the next would turn into speed:
     * all the way energy grows without end, from 1.3 on it does not on any sheet tried, whatever the substeps.
     */
    private static final double SHORT = 1.5;

    private final Sheet sheet;
    private final Fabric fabric;
    private final double[] down;
    private final List<Obstacle> obstacles;
    private final double[] at;
    private final double[] was;
    private final double[] speed;
    private final double[] meant;
    private final double[] moved = new double[3];
    private final SelfContact itself;

    /**
     * @param start metres, 3 a point
     * @param down  the way that things fall, of unit length
     */
    ClothSolver(Sheet sheet, Fabric fabric, double[] start, double[] down, List<Obstacle> obstacles) {
        this.sheet = sheet;
        this.fabric = fabric;
        this.down = down;
        this.obstacles = obstacles;
        at = start.clone();
        was = start.clone();
        meant = start.clone();
        speed = new double[start.length];
        itself = new SelfContact(sheet, fabric.thickness(), start);
    }

    /** Metres, 3 a point, as they are now; not to be changed. */
    double[] positions() {
        return at;
    }

    /** Of motion and of height, joules. */
    double energy() {
        double sum = 0;
        for (int k = 0; k < at.length; k++) {
            double w = sheet.weights()[k / 3];
            double pulled = GRAVITY * fabric.gravity() * down[k % 3] * at[k];
            sum += w == 0 ? 0 : (speed[k] * speed[k] / 2 - pulled) / w;
        }
        return sum;
    }

    /**
     * One frame on.
     *
     * @param from    where the skin has every point at its start
     * @param to      and at its end
     * @param seconds that it lasts
     */
    void frame(double[] from, double[] to, double seconds, Work work) {
        int steps = fabric.substeps();
        double h = seconds / steps;
        for (int s = 1; s <= steps; s++) {
            work.stopIfCancelled();
            double share = s / (double) steps;
            for (int i = 0; i < meant.length; i++) {
                meant[i] = from[i] + share * (to[i] - from[i]);
            }
            obstacles.forEach(o -> o.at(share));
            substep(h);
        }
    }

    private void substep(double h) {
        double slowed = Math.max(0, 1 - fabric.damping() * h);
        for (int p = 0; p < sheet.size(); p++) {
            for (int k = 3 * p; k < 3 * p + 3; k++) {
                was[k] = at[k];
                if (sheet.weights()[p] == 0) {
                    at[k] = meant[k];
                } else {
                    speed[k] = slowed * (speed[k] + h * GRAVITY * fabric.gravity() * down[k % 3]);
                    at[k] += h * speed[k];
                }
            }
        }
        hold(sheet.edges(), sheet.lengths(), fabric.stretch() / (h * h), false);
        hold(sheet.bends(), sheet.spans(), fabric.bend() / (h * h), false);
        hold(sheet.tethers(), sheet.ropes(), 0, true);
        if (fabric.itself()) {
            itself.part(at, speed, h);
        }
        for (int p = 0; p < sheet.size(); p++) {
            if (sheet.weights()[p] > 0) {
                near(p);
                collide(p);
            }
        }
        for (int k = 0; k < at.length; k++) {
            speed[k] = (at[k] - was[k]) / h;
        }
    }

    /** Brings pairs of points to their distance. @param rope only those that lie farther apart */
    private void hold(int[] pairs, double[] lengths, double give, boolean rope) {
        double[] w = sheet.weights();
        for (int i = 0; i < lengths.length; i++) {
            int a = pairs[2 * i];
            int b = pairs[2 * i + 1];
            double x = at[3 * a] - at[3 * b];
            double y = at[3 * a + 1] - at[3 * b + 1];
            double z = at[3 * a + 2] - at[3 * b + 2];
            double length = Math.sqrt(x * x + y * y + z * z);
            double off = length - lengths[i];
            if (length == 0 || rope && off <= 0) {
                continue;
            }
            double by = off / ((SHORT * (w[a] + w[b]) + give) * length);
            double toA = -w[a] * by;
            double toB = w[b] * by;
            at[3 * a] += toA * x;
            at[3 * a + 1] += toA * y;
            at[3 * a + 2] += toA * z;
            at[3 * b] += toB * x;
            at[3 * b + 1] += toB * y;
            at[3 * b + 2] += toB * z;
        }
    }

    /** Keeps a point within its reach. */
    private void near(int p) {
        double reach = sheet.reaches()[p];
        if (reach == Double.POSITIVE_INFINITY) {
            return;
        }
        double away = Math.sqrt(square(p));
        if (away > reach) {
            for (int k = 3 * p; k < 3 * p + 3; k++) {
                at[k] = meant[k] + (at[k] - meant[k]) * reach / away;
            }
        }
    }

    private double square(int p) {
        double x = at[3 * p] - meant[3 * p];
        double y = at[3 * p + 1] - meant[3 * p + 1];
        double z = at[3 * p + 2] - meant[3 * p + 2];
        return x * x + y * y + z * z;
    }

    private void collide(int p) {
        int i = 3 * p;
        for (Obstacle o : obstacles) {
            if (!o.near(at, i, fabric.thickness())) {
                continue;
            }
            double x = at[i];
            double y = at[i + 1];
            double z = at[i + 2];
            double deep = o.put(at, i, fabric.thickness(), moved);
            if (deep > 0) {
                rub(i, (at[i] - x) / deep, (at[i + 1] - y) / deep, (at[i + 2] - z) / deep, deep, o.friction());
            }
        }
    }

    /** Friction (Coulomb) by positions: what slides no farther than friction times depth stays where it is. */
    private void rub(int i, double nx, double ny, double nz, double deep, double other) {
        double x = at[i] - was[i] - moved[0];
        double y = at[i + 1] - was[i + 1] - moved[1];
        double z = at[i + 2] - was[i + 2] - moved[2];
        double into = x * nx + y * ny + z * nz;
        x -= into * nx;
        y -= into * ny;
        z -= into * nz;
        double slid = Math.sqrt(x * x + y * y + z * z);
        if (slid == 0) {
            return;
        }
        double share = Math.min(1, deep * (fabric.friction() + other) / 2 / slid);
        at[i] -= share * x;
        at[i + 1] -= share * y;
        at[i + 2] -= share * z;
    }
}
