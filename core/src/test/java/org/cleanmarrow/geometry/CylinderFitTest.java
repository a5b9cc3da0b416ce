package org.cleanmarrow.geometry;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Random;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

public class CylinderFitTest {
    /** The worked example of Gander, Golub and Strebel 1994, section 3.2; its values from memory. */
    @Test
    public void theCircleOfThePaperIsFound() {
        double[] circle = CylinderFit.circle(new double[] {1, 2, 5, 7, 9, 3}, new double[] {7, 6, 8, 7, 5, 7});
        assertThat(circle[0]).isCloseTo(4.7398, within(1e-4));
        assertThat(circle[1]).isCloseTo(2.9835, within(1e-4));
        assertThat(circle[2]).isCloseTo(4.7142, within(1e-4));
    }

    /** A barrel, or a part of one, turned and moved anywhere. */
    private static float[] barrel(int sides, int seen, double radius, double length, Matrix4d place, double noise) {
        Random random = new Random(5);
        float[] out = new float[seen * 18];
        int at = 0;
        for (int s = 0; s < seen; s++) {
            for (int[] corner : new int[][] {{s, 0}, {s + 1, 0}, {s + 1, 1}, {s, 0}, {s + 1, 1}, {s, 1}}) {
                double angle = 2 * Math.PI * corner[0] / sides;
                Vector3d p = place.transformPosition(new Vector3d(
                        radius * Math.cos(angle) + noise * random.nextGaussian(),
                        radius * Math.sin(angle) + noise * random.nextGaussian(),
                        length * corner[1]));
                out[at++] = (float) p.x;
                out[at++] = (float) p.y;
                out[at++] = (float) p.z;
            }
        }
        return out;
    }

    @Test
    public void aBarrelIsFoundWholeOrInPartAndWithNoise() {
        Random random = new Random(3);
        for (int round = 0; round < 20; round++) {
            Matrix4d place = new Matrix4d()
                    .translation(random.nextDouble() * 4, random.nextDouble() * 4, random.nextDouble() * 4)
                    .rotateXYZ(random.nextDouble() * 6, random.nextDouble() * 6, random.nextDouble() * 6);
            Vector3d axis = place.transformDirection(new Vector3d(0, 0, 1));
            Vector3d middle = place.transformPosition(new Vector3d(0, 0, 0.35));
            CylinderFit whole = CylinderFit.of(barrel(16, 16, 0.05, 0.7, place, 0));
            assertThat(whole.radius()).isCloseTo(0.05, within(1e-5));
            assertThat(Math.abs(whole.axis().dot(axis))).isCloseTo(1, within(1e-6));
            assertThat(whole.centre().distance(middle)).isLessThan(1e-5);
            CylinderFit half = CylinderFit.of(barrel(24, 12, 0.05, 0.7, place, 0));
            assertThat(half.centre().distance(middle)).isLessThan(1e-5);
            CylinderFit rough = CylinderFit.of(barrel(24, 24, 0.05, 0.7, place, 0.001));
            assertThat(rough.centre().distance(middle)).isLessThan(0.004);
            assertThat(rough.deviation()).isBetween(0.0005, 0.004);
        }
    }

    @Test
    public void flatOrTooFewTrianglesAreNoCylinder() {
        assertThat(CylinderFit.of(new float[18])).isNull();
        float[] flat = new float[9 * 8];
        Random random = new Random(1);
        for (int i = 0; i < flat.length; i += 3) {
            flat[i] = random.nextFloat();
            flat[i + 1] = random.nextFloat();
        }
        CylinderFit fit = CylinderFit.of(flat);
        assertThat(fit == null || fit.deviation() > 0.1 * fit.radius() || fit.radius() > 1)
                .as("%s", fit)
                .isTrue();
    }
}
