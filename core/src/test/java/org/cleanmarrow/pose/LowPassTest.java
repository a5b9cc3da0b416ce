package org.cleanmarrow.pose;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.io.InputStream;
import java.util.stream.IntStream;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The filter against SciPy's: {@code tools/reference/filter.py}, kept in {@code filtered.json}. */
public class LowPassTest {
    @Test
    public void noisyWaysAreFilteredAsSciPyFiltersThem() throws Exception {
        try (InputStream in = LowPassTest.class.getResourceAsStream("filtered.json")) {
            for (JsonNode one : JsonMapper.shared().readTree(in.readAllBytes())) {
                double[] way = numbers(one.path("way"));
                double[] ours = new LowPass(
                                one.path("hertz").doubleValue(),
                                one.path("rate").doubleValue())
                        .of(way);
                assertThat(ours).containsExactly(numbers(one.path("filtered")), within(1e-9));
                assertThat(ours[way.length / 2]).isNotEqualTo(way[way.length / 2]);
            }
        }
    }

    private static double[] numbers(JsonNode list) {
        return IntStream.range(0, list.size())
                .mapToDouble(i -> list.get(i).doubleValue())
                .toArray();
    }

    /** Half the power is left at the frequency after both passes, by definition of the correction. */
    @Test
    public void atItsFrequencyHalfThePowerIsLeftAndNothingComesLater() {
        double[] wave = IntStream.range(0, 1200)
                .mapToDouble(i -> Math.sin(2 * Math.PI * 6 * i / 120))
                .toArray();
        double[] out = new LowPass(6, 120).of(wave);
        double in = 0;
        double left = 0;
        double along = 0;
        for (int i = 300; i < 900; i++) {
            in += wave[i] * wave[i];
            left += out[i] * out[i];
            along += wave[i] * out[i];
        }
        assertThat(left / in).isCloseTo(0.5, within(1e-3));
        assertThat(along / Math.sqrt(in * left)).as("in step").isCloseTo(1, within(1e-6));
    }

    @Test
    public void fewSamplesAndStillOnesStayAsTheyAre() {
        assertThat(new LowPass(6, 30).of(new double[] {3})).containsExactly(3);
        assertThat(new LowPass(6, 30).of(new double[] {2, 2, 2, 2}))
                .containsExactly(new double[] {2, 2, 2, 2}, within(1e-12));
    }
}
