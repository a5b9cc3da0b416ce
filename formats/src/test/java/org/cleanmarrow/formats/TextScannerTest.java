package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Random;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.text.TextScanner;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public class TextScannerTest {
    private static TextScanner scanner(String text) throws ReadFailed {
        return new TextScanner(text.getBytes(StandardCharsets.UTF_8), "file.txt");
    }

    /** The quick way of reading numbers against the language's own, bit for bit. */
    @Test
    public void numbersAreReadAsTheLanguageReadsThem() throws Exception {
        Random random = new Random(99);
        for (int i = 0; i < 60_000; i++) {
            double value = switch (i % 4) {
                case 0 -> random.nextGaussian();
                case 1 -> Math.exp(random.nextDouble() * 80 - 40) * (random.nextBoolean() ? 1 : -1);
                case 2 -> random.nextInt(100_000) / 64.0;
                default -> Double.longBitsToDouble(random.nextLong());
            };
            if (!Double.isFinite(value)) {
                continue;
            }
            String[] forms = {
                Double.toString(value),
                Float.toString((float) value),
                String.format(Locale.ROOT, "%.6f", value % 1e6),
                String.format(Locale.ROOT, "%+.9e", value),
                Long.toString((long) (value % 1e9))
            };
            for (String form : forms) {
                if (form.contains("Infinity")) {
                    continue;
                }
                assertThat(scanner(form + " x").number()).as(form).isEqualTo(Double.parseDouble(form));
            }
        }
    }

    @DataProvider
    public Object[][] noNumbers() {
        return new Object[][] {
            {"x"}, {"-"}, {"."}, {"1.2.3"}, {"1e"}, {"nan"}, {"inf"}, {"1e999"}, {"0x10"}, {"1f"}, {"--1"}
        };
    }

    @Test(dataProvider = "noNumbers")
    public void whatIsNoNumberIsSaid(String text) {
        assertThatThrownBy(() -> {
                    TextScanner in = scanner("\n\n" + text + "\n");
                    in.moreAnywhere();
                    in.number();
                })
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("line 3")
                .hasMessageContaining(text);
    }

    @Test
    public void linesEndInEveryWayAndAreCounted() throws Exception {
        for (String end : new String[] {"\n", "\r\n", "\r"}) {
            TextScanner in = scanner("a 1" + end + end + "  b" + end + "c \\" + end + " d" + end);
            assertThat(in.moreAnywhere()).isTrue();
            assertThat(in.word()).isEqualTo("a");
            assertThat(in.number()).isEqualTo(1);
            assertThat(in.more()).isFalse();
            assertThat(in.nextLine()).isTrue();
            assertThat(in.word()).isEqualTo("b");
            assertThat(in.line()).isEqualTo(3);
            assertThat(in.nextLine()).isTrue();
            assertThat(in.word()).isEqualTo("c");
            assertThat(in.word()).as("a line goes on behind its backslash").isEqualTo("d");
            assertThat(in.line()).isEqualTo(5);
            assertThat(in.nextLine()).isFalse();
            assertThat(in.moreAnywhere()).isFalse();
        }
    }

    @Test
    public void byteOrderMarksAreUnderstood() throws Exception {
        String text = "v 1 2 3\nnäme ö\n";
        byte[][] forms = {
            ("\uFEFF" + text).getBytes(StandardCharsets.UTF_8),
            ("\uFEFF" + text).getBytes(StandardCharsets.UTF_16BE),
            ("\uFEFF" + text).getBytes(StandardCharsets.UTF_16LE),
            text.getBytes(StandardCharsets.UTF_8)
        };
        for (byte[] bytes : forms) {
            TextScanner in = new TextScanner(bytes, "f");
            in.moreAnywhere();
            assertThat(in.word()).isEqualTo("v");
            in.nextLine();
            assertThat(in.word()).isEqualTo("näme");
            assertThat(in.rest()).isEqualTo("ö");
        }
        byte[] lies = {(byte) 0xFE, (byte) 0xFF, (byte) 0xD8, 0x00};
        assertThatThrownBy(() -> new TextScanner(lies, "f"))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("UTF-16");
    }

    @Test
    public void wholeNumbersStopWhereTheyEnd() throws Exception {
        TextScanner in = scanner("12/-3//7 99999999999");
        in.more();
        assertThat(in.whole()).isEqualTo(12);
        assertThat(in.take('/')).isTrue();
        assertThat(in.whole()).isEqualTo(-3);
        assertThat(in.take('/')).isTrue();
        assertThat(in.take('/')).isTrue();
        assertThat(in.take('/')).isFalse();
        assertThat(in.whole()).isEqualTo(7);
        in.more();
        assertThatThrownBy(in::whole).isInstanceOf(ReadFailed.class).hasMessageContaining("99999999999");
        assertThat(in.share()).isBetween(0.9, 1.0);
    }
}
