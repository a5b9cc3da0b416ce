package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Quaterniond;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Keys in order of need: the same at any tolerance as anew, and nowhere off by more, by a way of measuring of its own. */
public class KeyReductionTest {
    @DataProvider
    public Object[][] ways() {
        return new Object[][] {
            {Sampler.Interpolation.LINEAR, true},
            {Sampler.Interpolation.LINEAR, false},
            {Sampler.Interpolation.CUBICSPLINE, true},
            {Sampler.Interpolation.CUBICSPLINE, false},
            {Sampler.Interpolation.STEP, false},
            {Sampler.Interpolation.STEP, true}
        };
    }

    private static Sampler way(Sampler.Interpolation kind, boolean rotation, Random random) {
        int width = rotation ? 4 : 3;
        int parts = kind == Sampler.Interpolation.CUBICSPLINE ? 3 : 1;
        float[] times = new float[80];
        float[] values = new float[times.length * width * parts];
        Quaterniond turn = new Quaterniond();
        double[] place = new double[3];
        for (int k = 0; k < times.length; k++) {
            times[k] = k == 0 ? 0 : times[k - 1] + 0.01f + 0.05f * random.nextFloat();
            turn.rotateX(random.nextGaussian() * 0.1).rotateY(random.nextGaussian() * 0.1);
            int at = k * width * parts + (parts == 3 ? width : 0);
            for (int i = 0; i < width; i++) {
                place[i % 3] += rotation ? 0 : random.nextGaussian() * 0.1;
                double[] q = {turn.x, turn.y, turn.z, turn.w};
                values[at + i] = (float) (rotation ? q[i] * (parts == 1 && k % 5 == 0 ? -1 : 1) : place[i]);
            }
        }
        return new Sampler(kind, times, values, width, Storage.FLOAT);
    }

    @Test(dataProvider = "ways")
    public void fewerKeysAtAnyToleranceAreThoseOfANewSearchAndWithinIt(Sampler.Interpolation kind, boolean rotation) {
        Random random = new Random(11);
        for (int n = 0; n < 20; n++) {
            Sampler s = way(kind, rotation, random);
            KeyReduction ordered = new KeyReduction(s, rotation);
            int before = Integer.MAX_VALUE;
            for (double tolerance : new double[] {0.5, 0.004, 0.02, 0.3, 1.5, 0}) {
                Sampler fewer = ordered.at(tolerance);
                Sampler anew = new KeyReduction(s, rotation).at(tolerance);
                assertThat(fewer.times()).isEqualTo(anew.times());
                assertThat(fewer.values()).isEqualTo(anew.values());
                within(s, fewer, rotation, tolerance);
            }
            for (double tolerance : new double[] {0, 0.01, 0.1, 1}) {
                int keys = ordered.at(tolerance).times().length;
                assertThat(keys).isLessThanOrEqualTo(before);
                before = keys;
            }
            assertThat(before).isLessThan(s.times().length / 2);
        }
    }

    /** At the keys, where straight ways part most. */
    private static void within(Sampler s, Sampler fewer, boolean rotation, double tolerance) {
        double[] a = new double[s.width()];
        double[] b = new double[s.width()];
        for (float t : s.times()) {
            if (rotation) {
                Keys.sampleRotation(s, t, a);
                Keys.sampleRotation(fewer, t, b);
                double dot = Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);
                assertThat(2 * Math.acos(Math.min(1, dot))).isLessThanOrEqualTo(tolerance + 2e-3);
            } else {
                Keys.sample(s, t, a);
                Keys.sample(fewer, t, b);
                assertThat(Math.hypot(Math.hypot(a[0] - b[0], a[1] - b[1]), a[2] - b[2]))
                        .isLessThanOrEqualTo(tolerance + 1e-4);
            }
        }
    }
}
