package org.cleanmarrow.retarget;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import java.util.stream.IntStream;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** Limbs bent to a place: what must hold by geometry alone. */
public class LimbTest {
    private static final Vector3d AHEAD = new Vector3d(0, 0, 1);

    private static Vector3d vector(Random random) {
        return new Vector3d(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
    }

    /** The end comes to the goal, or as near as the bones reach; no bone changes its length. */
    @Test
    public void theEndComesToItsGoalOrAsNearAsTheLimbReaches() {
        Random random = new Random(3);
        for (int i = 0; i < 500; i++) {
            Vector3d top = vector(random);
            Vector3d joint = vector(random);
            Vector3d end = vector(random);
            Vector3d goal = vector(random);
            Limb bent = Limb.reaching(top, joint, end, goal, AHEAD);
            Vector3d knee = bent.upper().transform(new Vector3d(joint).sub(top)).add(top);
            Vector3d now = bent.lower().transform(new Vector3d(end).sub(joint)).add(knee);
            double a = joint.distance(top);
            double b = end.distance(joint);
            double far = goal.distance(top);
            double left = Math.max(0, Math.max(far - (a + b), Math.abs(a - b) - far));
            assertThat(now.distance(goal)).isCloseTo(left, within(1e-9));
        }
    }

    @Test
    public void whereTheEndIsAtItsGoalNothingTurns() {
        Random random = new Random(5);
        for (int i = 0; i < 100; i++) {
            Vector3d top = vector(random);
            Vector3d joint = vector(random);
            Vector3d end = vector(random);
            Limb bent = Limb.reaching(top, joint, end, end, AHEAD);
            assertThat(bent.upper().angle()).isCloseTo(0, within(1e-4));
            assertThat(bent.lower().angle()).isCloseTo(0, within(1e-4));
        }
    }

    /** A straight leg, and one that is bent a little backwards by noise, both bend forward when they are shortened. */
    @Test
    public void aStraightLegBendsAhead() {
        for (double noise : new double[] {0, -0.0005}) {
            Vector3d knee = new Vector3d(0, 0.5, noise);
            Limb bent = Limb.reaching(new Vector3d(0, 1, 0), knee, new Vector3d(), new Vector3d(0, 0.2, 0), AHEAD);
            Vector3d now = bent.upper().transform(new Vector3d(knee).sub(0, 1, 0));
            // By the law of cosines: bones of 0.5 over 0.8 bend the knee out by sqrt(0.25 - 0.16).
            assertThat(now.z).isCloseTo(0.3, within(1e-3));
        }
    }

    /** Half a second on the ground, half a second through the air, and so on, at 60 frames a second. */
    @Test
    public void aFootStandsWhereItIsSlowAndLow() {
        Vector3d[] way = IntStream.range(0, 120)
                .mapToObj(f -> {
                    double u = f % 60 < 30 ? 0 : (f % 60 - 30) / 30.0;
                    int steps = f / 60;
                    return new Vector3d(0.8 * (steps + u), 0.15 * Math.sin(Math.PI * u), 0);
                })
                .toArray(Vector3d[]::new);
        double[] held = Planted.held(way, new Vector3d(0, 1, 0), 0.9, 60);
        for (int f = 0; f < held.length; f++) {
            int in = f % 60;
            if (in > 1 && in < 29) {
                assertThat(held[f]).as("frame %d stands", f).isEqualTo(1);
            } else if (in > 36 && in < 54) {
                assertThat(held[f]).as("frame %d flies", f).isZero();
            }
            assertThat(held[f]).isBetween(0.0, 1.0);
        }
    }
}
