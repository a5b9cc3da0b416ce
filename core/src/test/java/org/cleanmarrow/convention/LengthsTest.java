package org.cleanmarrow.convention;

import static org.assertj.core.api.Assertions.assertThat;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class LengthsTest {
    /** Inch and foot: 0.0254 m and 0.3048 m exactly, NIST Special Publication 811 (2008), appendix B.8. */
    @DataProvider
    public Object[][] lengths() {
        return new Object[][] {
            {"182cm", 1.82},
            {"6ft", 1.8288},
            {"5 ft 9 in", 5 * 0.3048 + 9 * 0.0254},
            {"1.82 m", 1.82},
            {"1,82 m", 1.82},
            {"12", 0.12},
            {"12+3", 0.15},
            {"1m + 5", 1.05},
            {"2 * 3cm", 0.06},
            {"3cm * 2", 0.06},
            {"1 yd / 3", 0.3048},
            {"-(2mm - 5mm)", 0.003},
            {".5 in", 0.0127},
        };
    }

    @Test(dataProvider = "lengths")
    public void readsWhatPeopleType(String text, double metres) {
        assertThat(Lengths.metres(text, 0.01).orElseThrow())
                .isCloseTo(metres, org.assertj.core.data.Offset.offset(1e-12));
    }

    @DataProvider
    public Object[][] others() {
        return new Object[][] {
            {""},
            {"tall"},
            {"3 parsec"},
            {"1 + "},
            {"(2cm"},
            {"2cm)"},
            {"3cm * 2cm"},
            {"1 / 2cm"},
            {"1..2"},
            {"1/0"},
            {"(".repeat(119)},
            {"9".repeat(121)},
        };
    }

    @Test(dataProvider = "others")
    public void refusesWhatIsNoLength(String text) {
        assertThat(Lengths.metres(text, 1)).isEmpty();
    }

    @Test
    public void numbersTakeNoUnits() {
        assertThat(Lengths.number("0,25 + 0.5").orElseThrow()).isEqualTo(0.75);
        assertThat(Lengths.number("2cm")).isEmpty();
    }
}
