package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.ResourceBundle;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.steps.Steps;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Colours that can be read, and texts that are all there. */
public class ThemeAndWordsTest {
    private static final Pattern TOKEN = Pattern.compile("(-[a-z][a-z0-9-]*): (#[0-9A-Fa-f]{6});");

    private static Map<String, Integer> tokens(String block) throws Exception {
        String css = new String(
                ThemeAndWordsTest.class
                        .getResourceAsStream("/org/cleanmarrow/desktop/desk.css")
                        .readAllBytes(),
                StandardCharsets.UTF_8);
        int start = css.indexOf(block + " {");
        assertThat(start).as(block).isNotNegative();
        Matcher m = TOKEN.matcher(css.substring(start, css.indexOf('}', start)));
        Map<String, Integer> out = new HashMap<>();
        while (m.find()) {
            out.put(m.group(1), Integer.parseInt(m.group(2).substring(1), 16));
        }
        return out;
    }

    /** Relative luminance and contrast ratio as WCAG 2.2 defines them (success criterion 1.4.3). */
    private static double contrast(int a, int b) {
        double x = luminance(a) + 0.05;
        double y = luminance(b) + 0.05;
        return Math.max(x, y) / Math.min(x, y);
    }

    private static double luminance(int rgb) {
        double[] c = new double[3];
        for (int i = 0; i < 3; i++) {
            double v = (rgb >> 16 - 8 * i & 255) / 255.0;
            c[i] = v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
        }
        return 0.2126 * c[0] + 0.7152 * c[1] + 0.0722 * c[2];
    }

    @Test
    public void theMeasureItselfIsTheStandards() {
        // WCAG 2.2: black on white is 21:1; #777777 on white is just short of 4.5:1.
        assertThat(contrast(0, 0xFFFFFF)).isEqualTo(21);
        assertThat(contrast(0x777777, 0xFFFFFF)).isBetween(4.47, 4.49);
    }

    @DataProvider
    public Object[][] themes() {
        return new Object[][] {{".window"}, {".window.lamplight"}};
    }

    @Test(dataProvider = "themes")
    public void textIsReadableInBothThemes(String theme) throws Exception {
        Map<String, Integer> t = tokens(theme);
        for (String ground : List.of("-paper", "-card")) {
            for (String text : List.of("-ink", "-ink-2", "-marrow", "-verdigris", "-slate")) {
                assertThat(contrast(t.get(text), t.get(ground)))
                        .as("%s: %s on %s", theme, text, ground)
                        .isGreaterThanOrEqualTo(4.5);
            }
            // Ochre marks and outlines; where it is text it is large or bold beside a count: 3:1.
            assertThat(contrast(t.get("-ochre"), t.get(ground))).isGreaterThanOrEqualTo(3);
        }
        assertThat(contrast(t.get("-on-marrow"), t.get("-marrow")))
                .as("the main act")
                .isGreaterThanOrEqualTo(4.5);
        assertThat(contrast(t.get("-ink"), t.get("-marrow-soft")))
                .as("a chosen row")
                .isGreaterThanOrEqualTo(4.5);
    }

    @Test
    public void everyStepFixPaintAndToolHasItsName() {
        ResourceBundle words = ResourceBundle.getBundle("org.cleanmarrow.desktop.words");
        for (var step : Steps.ALL) {
            String name = StepCodec.info(step).name();
            assertThat(words.containsKey("step." + name)).as("step.%s", name).isTrue();
            assertThat(words.containsKey("fix." + name)).as("fix.%s", name).isTrue();
        }
        for (ShadingMode paint : ShadingMode.values()) {
            assertThat(words.containsKey("skin.paint." + paint.name().toLowerCase()))
                    .isTrue();
        }
        for (Chooser.Reach reach : Chooser.Reach.values()) {
            assertThat(words.containsKey("skin.tool." + reach.name().toLowerCase() + ".tip"))
                    .isTrue();
        }
        for (Chooser.Gesture gesture : Chooser.Gesture.values()) {
            assertThat(words.containsKey("skin.drag." + gesture.name().toLowerCase() + ".tip"))
                    .isTrue();
        }
        for (Station station : List.of(Station.INTAKE, Station.SKIN, Station.DELIVERY)) {
            assertThat(words.containsKey("station." + station.name().toLowerCase()))
                    .isTrue();
        }
    }

    @Test
    public void noTextShoutsOrBlames() {
        ResourceBundle words = ResourceBundle.getBundle("org.cleanmarrow.desktop.words");
        for (String key : words.keySet()) {
            assertThat(words.getString(key))
                    .as(key)
                    .doesNotContain("!")
                    .doesNotContainIgnoringCase("error")
                    .doesNotContainIgnoringCase("invalid");
        }
    }
}
