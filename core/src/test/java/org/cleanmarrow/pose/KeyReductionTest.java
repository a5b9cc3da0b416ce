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

    /**
     * The sum of squares over all keys, by plain evaluation: it is a paraboloid in the values of the fewer keys, so where every step
     * aside makes it larger it is the least there is.
     */
    @Test
    public void keysThatLieNearestLeaveTheLeastSumOfSquares() {
        Random random = new Random(3);
        for (int n = 0; n < 10; n++) {
            Sampler s = way(Sampler.Interpolation.LINEAR, false, random);
            KeyReduction reduction = new KeyReduction(s, false);
            Sampler nearest = reduction.nearest(KeyReduction.Tolerance.of(0.3));
            Sampler plain = reduction.at(0.3);
            assertThat(nearest.times()).isEqualTo(plain.times());
            double least = squares(s, nearest.values(), nearest);
            assertThat(least).isLessThan(squares(s, plain.values(), plain) * 0.9);
            int last = nearest.values().length - 3;
            for (int i = 0; i < nearest.values().length; i++) {
                if (i < 3 || i >= last) {
                    assertThat(nearest.values()[i]).isEqualTo(plain.values()[i]);
                    continue;
                }
                for (float aside : new float[] {-1e-2f, 1e-2f}) {
                    float[] moved = nearest.values().clone();
                    moved[i] += aside;
                    assertThat(squares(s, moved, nearest)).isGreaterThan(least);
                }
            }
        }
    }

    @Test
    public void turnsThatLieNearestAreUnitAndOffByLess() {
        Random random = new Random(4);
        for (int n = 0; n < 10; n++) {
            Sampler s = way(Sampler.Interpolation.LINEAR, true, random);
            KeyReduction reduction = new KeyReduction(s, true);
            Sampler nearest = reduction.nearest(KeyReduction.Tolerance.of(0.2));
            assertThat(nearest.times().length).isBetween(3, s.times().length / 2);
            double was = 0;
            double is = 0;
            for (float t : s.times()) {
                was += Math.pow(turned(s, reduction.at(0.2), t), 2);
                is += Math.pow(turned(s, nearest, t), 2);
            }
            assertThat(is).isLessThan(was * 0.9);
            for (int k = 0; k < nearest.times().length; k++) {
                double square = 0;
                for (int i = 0; i < 4; i++) {
                    square += Math.pow(nearest.values()[k * 4 + i], 2);
                }
                assertThat(square).isBetween(1 - 1e-6, 1 + 1e-6);
            }
        }
        // All keys are needed: then they are what they were.
        Sampler s = way(Sampler.Interpolation.LINEAR, false, random);
        assertThat(new KeyReduction(s, false)
                        .nearest(KeyReduction.Tolerance.of(0))
                        .values())
                .isEqualTo(s.values());
    }

    private static double squares(Sampler s, float[] values, Sampler keys) {
        Sampler other = new Sampler(Sampler.Interpolation.LINEAR, keys.times(), values, 3, Storage.FLOAT);
        double[] a = new double[3];
        double[] b = new double[3];
        double sum = 0;
        for (float t : s.times()) {
            Keys.sample(s, t, a);
            Keys.sample(other, t, b);
            for (int i = 0; i < 3; i++) {
                sum += (a[i] - b[i]) * (a[i] - b[i]);
            }
        }
        return sum;
    }

    private static double turned(Sampler one, Sampler other, double seconds) {
        double[] a = new double[4];
        double[] b = new double[4];
        Keys.sampleRotation(one, seconds, a);
        Keys.sampleRotation(other, seconds, b);
        double dot = Math.abs(a[0] * b[0] + a[1] * b[1] + a[2] * b[2] + a[3] * b[3]);
        return 2 * Math.acos(Math.min(1, dot));
    }

    /** A cubic is one cubic: x(t) = t^3 - t from -1 to 1 has slope 3t^2 - 1, so 2 at both ends. */
    @Test
    public void whatIsOneCubicBecomesOneSplineWithItsSlopes() {
        // So dense that the straight way between two is off by h^2/8 of 6, the second derivative: under a
        // hundred-thousandth.
        float[] times = new float[601];
        float[] values = new float[601];
        for (int k = 0; k < 601; k++) {
            times[k] = k / 300f;
            double t = times[k] - 1.0;
            values[k] = (float) (t * t * t - t);
        }
        Sampler dense = new Sampler(Sampler.Interpolation.LINEAR, times, values, 1, Storage.FLOAT);
        Sampler spline = new KeyReduction(dense, false, true).at(3e-5);
        assertThat(spline.interpolation()).isEqualTo(Sampler.Interpolation.CUBICSPLINE);
        assertThat(spline.times()).containsExactly(0, 2);
        float[] of = spline.values();
        assertThat(new double[] {of[1], of[2], of[3], of[4]})
                .containsExactly(new double[] {0, 2, 2, 0}, org.assertj.core.api.Assertions.within(1e-3));
    }

    /** Held against the sine itself, between keys too. A spline through n points is off by n^-4, straight ways by n^-2. */
    @Test
    public void aSineTakesAFractionOfTheKeysAsSplines() {
        int many = 241;
        float[] times = new float[many];
        float[] waves = new float[many];
        float[] turns = new float[many * 4];
        for (int k = 0; k < many; k++) {
            times[k] = k / 60f;
            waves[k] = (float) Math.sin(3 * times[k]);
            double half = 0.7 * Math.sin(3 * times[k]);
            turns[k * 4] = (float) (Math.sin(half) * (k % 3 == 0 ? -1 : 1));
            turns[k * 4 + 3] = (float) (Math.cos(half) * (k % 3 == 0 ? -1 : 1));
        }
        Sampler wave = new Sampler(Sampler.Interpolation.LINEAR, times, waves, 1, Storage.FLOAT);
        Sampler turn = new Sampler(Sampler.Interpolation.LINEAR, times, turns, 4, Storage.FLOAT);
        for (double tolerance : new double[] {0.01, 0.002, 0.0005}) {
            Sampler spline = new KeyReduction(wave, false, true).at(tolerance);
            Sampler turned = new KeyReduction(turn, true, true).at(tolerance);
            double[] value = new double[1];
            double[] q = new double[4];
            // What the dense keys themselves are off by, halfway between two: h^2/8 of the second derivative.
            double dense = 9.0 / 60 / 60 / 8;
            for (int i = 0; i <= 4000; i++) {
                double t = i / 1000.0;
                Keys.sample(spline, t, value);
                assertThat(Math.abs(value[0] - Math.sin(3 * t))).isLessThan(tolerance + 2 * dense);
                Keys.sampleRotation(turned, t, q);
                double half = 0.7 * Math.sin(3 * t);
                double along = Math.abs(q[0] * Math.sin(half) + q[3] * Math.cos(half));
                assertThat(2 * Math.acos(Math.min(1, along))).isLessThan(tolerance + 3 * dense);
            }
            int straight = new KeyReduction(wave, false).at(tolerance).times().length;
            assertThat(spline.times().length * 3L).as("numbers").isLessThan(straight);
            assertThat(turned.times().length * 3L)
                    .isLessThan(new KeyReduction(turn, true).at(tolerance).times().length);
        }
    }
}
