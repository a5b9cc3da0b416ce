package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.examination.Station;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** The page of checks is what the code says of them; {@code -Dmarrow.write=true} writes it anew. */
public class CheckPageTest {
    private static String page() {
        StringBuilder out = new StringBuilder("""
            # Checks

            Made from the code: `./marrow checks` prints the same as JSON. They stand by station; mending takes their fixes in the order in which they
            fit. How grave a finding is, and whether a check is run, a [target](targets.md) may say otherwise.
            """);
        for (Station station : Station.values()) {
            String name = station.name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
            boolean headed = false;
            for (JsonNode check : ChecksCommand.describeAll().path("checks")) {
                if (check.path("station").stringValue().equals(name)) {
                    out.append(headed ? "" : "\n## " + name + "\n");
                    headed = true;
                    out.append("\n### ")
                            .append(check.path("check").stringValue())
                            .append("\n\n");
                    out.append(check.path("why").stringValue()).append("\n\n");
                    out.append("- *Measured:* ")
                            .append(check.path("measured").stringValue())
                            .append('\n');
                    out.append("- *Mended:* ")
                            .append(check.path("mended").stringValue())
                            .append('\n');
                }
            }
        }
        return out.toString();
    }

    @Test
    public void thePageIsWhatTheCodeSays() throws Exception {
        Path file = Path.of(System.getProperty("marrow.root"), "docs", "checks.md");
        if (Boolean.getBoolean("marrow.write")) {
            Files.writeString(file, page());
        }
        assertThat(Files.readString(file)).isEqualTo(page());
    }
}
