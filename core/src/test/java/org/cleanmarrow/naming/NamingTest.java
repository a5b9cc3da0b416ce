package org.cleanmarrow.naming;

import static org.assertj.core.api.Assertions.assertThat;

import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Side words as they are written in the trade (common practice; made-up names). */
public class NamingTest {
    @DataProvider
    public Object[][] pairs() {
        return new Object[][] {
            {"left_upper_arm", "right_upper_arm"},
            {"LeftHand", "RightHand"},
            {"handLeft", "handRight"},
            {"hand.L", "hand.R"},
            {"l_foot", "r_foot"},
            {"foot_l_02", "foot_r_02"},
            {"ARM_LEFT", "ARM_RIGHT"},
            {"wing-left-tip", "wing-right-tip"},
            {"glove_L_LOD1", "glove_R_LOD1"},
        };
    }

    @Test(dataProvider = "pairs")
    public void sidesAreSwappedThereAndBack(String left, String right) {
        assertThat(SideWords.sideOf(left)).isEqualTo(1);
        assertThat(SideWords.sideOf(right)).isEqualTo(-1);
        assertThat(SideWords.swapped(left)).contains(right);
        assertThat(SideWords.swapped(right)).contains(left);
    }

    @Test
    public void wordsThatOnlyHoldTheLettersAreNoSides() {
        for (String name :
                new String[] {"cleft", "bright", "upright_pole", "leftover", "lid", "rail", "pilot", "chest"}) {
            assertThat(SideWords.sideOf(name)).as(name).isZero();
            assertThat(SideWords.swapped(name)).as(name).isEmpty();
        }
    }

    @Test
    public void patternsFitAndReplaceInOrder() {
        NamePattern pattern = new NamePattern("cape_*_?, lantern");
        assertThat(pattern.fits("cape_hem_2")).isTrue();
        assertThat(pattern.fits("cape_hem_22")).isFalse();
        assertThat(pattern.fits("lantern")).isTrue();
        assertThat(pattern.fits("Lantern")).isFalse();
        assertThat(pattern.replaced("cape_hem_2", "ferry_*-?")).contains("ferry_hem-2");
        assertThat(pattern.replaced("boat", "x")).isEmpty();
        assertThat(new NamePattern("a.b[c]").fits("a.b[c]")).isTrue();
        assertThat(new NamePattern("").fits("")).isFalse();
    }

    @Test
    public void anyNameHasAPatternThatFitsItAlone() {
        for (String name : new String[] {
            "a,b", "star*", "who?", "back\\slash", " spaced out ", "plain", "comma, blank", "naïve 🦀?"
        }) {
            NamePattern exact = new NamePattern(NamePattern.exactly(name));
            assertThat(exact.fits(name)).as(name).isTrue();
            assertThat(exact.fits(name + "x")).as(name).isFalse();
            assertThat(exact.fits("star_shaped")).as(name).isFalse();
        }
        NamePattern two = new NamePattern("left hand , right hand");
        assertThat(two.fits("left hand")).isTrue();
        assertThat(two.fits("right hand")).isTrue();
        assertThat(two.fits("left")).isFalse();
    }
}
