package org.cleanmarrow.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.ResourceBundle;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.MatchResult;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.testng.annotations.Test;

public class MessagesTest {
    /** A key as code gives it, with the prefix that goes before it. */
    private record Kind(String prefix, Pattern pattern) {
        static Kind of(String prefix, String call) {
            return new Kind(prefix, Pattern.compile(call + "\\(\\s*\"([a-z0-9.\\-]+)\""));
        }
    }

    private static final List<Kind> KINDS = List.of(
            Kind.of("count.", "\\.count"),
            Kind.of("outcome.", "\\.note"),
            Kind.of("refused.", "new Refused"),
            Kind.of("json.", "new BadJson"),
            Kind.of("", "Message\\.of"));

    /** The inch is 0.0254 m exactly (NIST Special Publication 811, B.8). */
    @Test
    public void lengthsAreSaidInTheReadersUnit() {
        Message moved = Message.of("outcome.ground.by", new Length(0.0508));
        assertThat(Messages.say(moved, "in")).isEqualTo("Everything concerned went 2 in.");
        assertThat(Messages.say(moved, "mm")).contains("50.8 mm");
        assertThat(moved.toString()).contains("5.08 cm");
        Message within = Message.of("check.axes", List.of(moved, moved));
        assertThat(Messages.say(within, "in")).contains("2 in.; Everything");
        assertThat(Message.of("outcome.ground.by", new Length(Double.POSITIVE_INFINITY))
                        .toString())
                .contains("infinitely far");
    }

    /** The later of two would be said, and the other be lost without a word. */
    @Test
    public void noKeyHasTwoSentences() throws Exception {
        Path root = Path.of(System.getProperty("marrow.root"));
        for (String file : List.of(
                "core/src/main/resources/org/cleanmarrow/text/core.properties",
                "desktop/src/main/resources/org/cleanmarrow/desktop/words.properties")) {
            List<String> keys = Files.readAllLines(root.resolve(file)).stream()
                    .filter(l -> l.matches("[a-zA-Z0-9.\\-]+=.*"))
                    .map(l -> l.substring(0, l.indexOf('=')))
                    .toList();
            assertThat(keys).as(file).hasSizeGreaterThan(500).doesNotHaveDuplicates();
        }
    }

    /** Words are put to a key long after it was written: one that has none would be noticed too late. */
    @Test
    public void everyKeyInTheCodeHasItsSentence() throws Exception {
        Set<String> known = ResourceBundle.getBundle("org.cleanmarrow.text.core", Locale.ROOT)
                .keySet();
        Set<String> missing = new TreeSet<>();
        int found = 0;
        Path root = Path.of(System.getProperty("marrow.root"));
        for (String module : List.of("core", "formats")) {
            try (Stream<Path> files = Files.walk(root.resolve(module).resolve("src/main/java"))) {
                for (Path file :
                        files.filter(f -> f.toString().endsWith(".java")).toList()) {
                    String code = Files.readString(file);
                    for (Kind kind : code.contains("Change") ? KINDS : KINDS.subList(1, KINDS.size())) {
                        for (MatchResult call :
                                kind.pattern.matcher(code).results().toList()) {
                            found++;
                            String key = kind.prefix + call.group(1);
                            // Ends in a dot: the rest is put together, and tested where it is.
                            if (!key.endsWith(".") && !known.contains(key)) {
                                missing.add(key);
                            }
                        }
                    }
                }
            }
        }
        assertThat(missing).isEmpty();
        assertThat(found).isGreaterThan(250);
    }
}
