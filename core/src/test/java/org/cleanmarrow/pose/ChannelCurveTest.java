package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.measure.ErrorOverTime;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Curves of channels as one reads them, and how far two clips are apart over time, both with numbers found by hand. */
public class ChannelCurveTest {
    private static Clip clip(int node, Channel.Path path, Sampler.Interpolation kind, float[] times, float... values) {
        int width = values.length / times.length;
        Sampler keys = new Sampler(kind, times, values, width, Storage.FLOAT);
        return new Clip(
                "way", List.of(new Channel(node, path, keys, "", Passthrough.NONE)), 4, false, true, Passthrough.NONE);
    }

    private static float half(double degrees) {
        return (float) Math.sin(Math.toRadians(degrees / 2));
    }

    private static ChannelCurve curve(Asset asset, Clip clip, Channel.Path path) {
        return ChannelCurve.of(asset, clip, 0, path, 101).orElseThrow();
    }

    /** A turn by an angle about an axis is (axis sin(angle/2), cos(angle/2)): glTF 2.0, 3.5.3, rotations as unit quaternions. */
    @Test
    public void aTurnIsReadInDegreesAboutItsAxisAndCarriedOnBeyondAFullOne() {
        Asset asset = StickFigure.of(1.8);
        float[] times = {0, 0.25f, 0.5f, 0.75f, 1, 1.25f, 1.5f};
        float[] values = new float[28];
        for (int k = 0; k < 7; k++) {
            // Every second one the other way round: the same turns.
            float sign = k % 2 == 0 ? 1 : -1;
            values[k * 4 + 2] = sign * half(90 * k);
            values[k * 4 + 3] = sign * (float) Math.cos(Math.toRadians(45 * k));
        }
        ChannelCurve turn = curve(
                asset,
                clip(0, Channel.Path.ROTATION, Sampler.Interpolation.LINEAR, times, values),
                Channel.Path.ROTATION);
        assertThat(turn.keys()).hasSize(7);
        for (int k = 0; k < 7; k++) {
            assertThat(turn.atKeys()[0][k]).isCloseTo(0, within(1e-4));
            assertThat(turn.atKeys()[2][k]).isCloseTo(90 * k, within(1e-3));
        }
        for (int i = 0; i < turn.seconds().length; i++) {
            assertThat(turn.values()[2][i]).isCloseTo(360 * turn.seconds()[i], within(1e-3));
        }
    }

    @Test
    public void aPlaceIsReadInMetresAndAStepStaysUntilItsKey() {
        Conventions centimetres = Conventions.parse("z-up-cm-rh").orElseThrow();
        Asset asset = StickFigure.of(1.8).withConventions(centimetres);
        Clip steps =
                clip(0, Channel.Path.TRANSLATION, Sampler.Interpolation.STEP, new float[] {0, 1}, 5, 0, 0, 250, 0, -50);
        ChannelCurve place = curve(asset, steps, Channel.Path.TRANSLATION);
        assertThat(place.atKeys()[0]).containsExactly(new double[] {0.05, 2.5}, within(1e-9));
        assertThat(place.atKeys()[2]).containsExactly(new double[] {0, -0.5}, within(1e-9));
        int end = place.seconds().length - 1;
        assertThat(place.values()[0][end - 1]).as("just before its key").isCloseTo(0.05, within(1e-9));
        assertThat(place.values()[0][end]).isCloseTo(2.5, within(1e-9));
        assertThat(ChannelCurve.of(asset, steps, 1, Channel.Path.TRANSLATION, 10))
                .isEmpty();
        assertThat(ChannelCurve.of(asset, steps, 0, Channel.Path.SCALE, 10)).isEmpty();
    }

    /** Straight from 0 to 2 m instead of by 1 m halfway up: off by 1 m at the half, by nothing at both ends, straight between. */
    @Test
    public void howFarTwoClipsAreApartIsFoundFrameByFrame() {
        Asset asset = StickFigure.of(1.8);
        Clip bent = clip(
                0,
                Channel.Path.TRANSLATION,
                Sampler.Interpolation.LINEAR,
                new float[] {0, 1, 2},
                0,
                0,
                0,
                1,
                1,
                0,
                2,
                0,
                0);
        Clip straight =
                clip(0, Channel.Path.TRANSLATION, Sampler.Interpolation.LINEAR, new float[] {0, 2}, 0, 0, 0, 2, 0, 0);
        ErrorOverTime off = ErrorOverTime.of(asset, bent, straight, Work.QUIET);
        assertThat(off.seconds()).hasSize(33).startsWith(0).endsWith(2);
        for (int i = 0; i < 33; i++) {
            assertThat(off.metres()[i]).isCloseTo(1 - Math.abs(1 - off.seconds()[i]), within(1e-6));
        }
        assertThat(off.worst()).isEqualTo(16);
        assertThat(off.largest()).isCloseTo(1, within(1e-6));
    }
}
