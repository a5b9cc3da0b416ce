package org.cleanmarrow.convention;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** How lengths are said; feet and inches by NIST Special Publication 811, appendix B.8. */
public class UnitsSaidTest {
    @DataProvider
    public Object[][] said() {
        return new Object[][] {
            {1.7526, "ft", "5 ft 9.0 in"},
            {1.8288, "ft", "6 ft 0.0 in"},
            {-0.3048, "ft", "-1 ft 0.0 in"},
            {0.0254, "in", "1 in"},
            {1.75, "cm", "175 cm"},
            {1.75, "mm", "1750 mm"},
            {1.75, "", "1.75 m"},
            {0.31, "", "31 cm"},
            {0.000002, "", "0.002 mm"},
            {1.75, "cubit", "1.75 m"},
        };
    }

    @Test(dataProvider = "said")
    public void lengthsAreSaidInTheUnitAskedFor(double metres, String unit, String said) {
        assertThat(Units.sayIn(metres, unit)).isEqualTo(said);
    }

    /** What is said can be typed again and means the same, to the digits that were said. */
    @Test
    public void whatIsSaidCanBeTypedAgain() {
        Random random = new Random(3);
        for (int i = 0; i < 500; i++) {
            double metres = Math.exp(random.nextDouble() * 9 - 4);
            for (String unit : new String[] {"", "m", "cm", "mm", "in", "ft"}) {
                double again = Lengths.metres(Units.sayIn(metres, unit), 1).orElseThrow();
                // Inches are said to a tenth, everything else to two digits at least.
                double missed = Math.abs(again - metres);
                assertThat(missed).as("%s of %s", unit, metres).isLessThan(unit.equals("ft") ? 0.00128 : 0.03 * metres);
            }
        }
    }
}
