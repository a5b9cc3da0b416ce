package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Sampler.Interpolation;
import org.cleanmarrow.model.Storage;
import org.joml.Quaterniond;
import org.testng.annotations.Test;

/** glTF 2.0, appendix C, "Animation sampler interpolation modes". */
public class KeysTest {
    private static double[] at(Interpolation how, double seconds, float[] times, float... values) {
        double[] out = new double[3];
        Keys.sample(new Sampler(how, times, values, 1, Storage.FLOAT), seconds, out);
        return out;
    }

    @Test
    public void stepHoldsUntilTheNextKey() {
        float[] times = {1, 2, 4};
        assertThat(at(Interpolation.STEP, 1.99, times, 5, 7, 9)[0]).isEqualTo(5);
        assertThat(at(Interpolation.STEP, 2, times, 5, 7, 9)[0]).isEqualTo(7);
        assertThat(at(Interpolation.STEP, 3.99, times, 5, 7, 9)[0]).isEqualTo(7);
    }

    @Test
    public void outsideTheKeysTheEndsHold() {
        float[] times = {1, 2};
        for (Interpolation how : new Interpolation[] {Interpolation.STEP, Interpolation.LINEAR}) {
            assertThat(at(how, -3, times, 5, 7)[0]).isEqualTo(5);
            assertThat(at(how, 9, times, 5, 7)[0]).isEqualTo(7);
        }
        assertThat(at(Interpolation.CUBICSPLINE, 0, times, 0, 5, 1, 1, 7, 0)[0]).isEqualTo(5);
        assertThat(at(Interpolation.CUBICSPLINE, 5, times, 0, 5, 1, 1, 7, 0)[0]).isEqualTo(7);
    }

    @Test
    public void linearIsTheWeightedMean() {
        assertThat(at(Interpolation.LINEAR, 2.5, new float[] {2, 4}, 10, 20)[0]).isCloseTo(12.5, within(1e-12));
    }

    /**
     * Worked by hand from the appendix: t = 1/4, span 2, v0 = 1, out-tangent 3, v1 = 5, in-tangent -2:
     * (2t³-3t²+1) 1 + 2(t³-2t²+t) 3 + (-2t³+3t²) 5 + 2(t³-t²)(-2)
     * = 0.84375 + 0.84375 + 0.78125 + 0.1875 = 2.65625.
     */
    @Test
    public void cubicFollowsTheHermiteFormWithTangentsScaledByTheSpan() {
        double[] found = at(Interpolation.CUBICSPLINE, 1.5, new float[] {1, 3}, 0, 1, 3, -2, 5, 0);
        assertThat(found[0]).isCloseTo(2.65625, within(1e-12));
    }

    /** JOML's slerp is the witness for turning at an even rate along the shorter way. */
    @Test
    public void rotationsTurnEvenlyAlongTheShorterWay() {
        Random random = new Random(4);
        for (int i = 0; i < 500; i++) {
            Quaterniond a = random(random);
            Quaterniond b = random(random);
            float[] values = {
                (float) a.x, (float) a.y, (float) a.z, (float) a.w, (float) b.x, (float) b.y, (float) b.z, (float) b.w
            };
            double u = random.nextDouble();
            double[] q = new double[4];
            Keys.sampleRotation(
                    new Sampler(Interpolation.LINEAR, new float[] {0, 1}, values, 4, Storage.FLOAT), (float) u, q);
            Quaterniond expected = a.slerp(b, (float) u, new Quaterniond());
            double same = Math.abs(expected.dot(new Quaterniond(q[0], q[1], q[2], q[3])));
            assertThat(same).as("keys are float32").isCloseTo(1, within(1e-7));
        }
    }

    @Test
    public void aCubicRotationIsNormalised() {
        float[] values = {0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0};
        double[] q = new double[4];
        Keys.sampleRotation(
                new Sampler(Interpolation.CUBICSPLINE, new float[] {0, 1}, values, 4, Storage.FLOAT), 0.5, q);
        // Half way the spline gives (0.5, 0, 0, 0.5), which must be brought to unit length.
        assertThat(q).containsExactly(new double[] {Math.sqrt(0.5), 0, 0, Math.sqrt(0.5)}, within(1e-12));
    }

    private static Quaterniond random(Random r) {
        return new Quaterniond(r.nextGaussian(), r.nextGaussian(), r.nextGaussian(), r.nextGaussian()).normalize();
    }

    /** Against the standard library's arccosine, near 1 where turns from key to key are small, and on either side of the seam. */
    @Test
    public void theAngleOfACosineIsTheArccosine() {
        for (double angle = 1e-4; angle < Math.PI / 2; angle *= 1.01) {
            double cosine = Math.cos(angle);
            assertThat(Keys.angle(cosine)).isCloseTo(Math.acos(cosine), within(4e-16 * Math.max(1, angle)));
        }
        assertThat(Keys.angle(1)).isZero();
    }
}
