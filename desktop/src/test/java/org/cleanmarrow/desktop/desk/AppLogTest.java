package org.cleanmarrow.desktop.desk;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.testng.annotations.Test;

public class AppLogTest {
    @Test
    public void itIsBoundedAndHoldsNothingOutOfFiles() throws Exception {
        Path folder = Files.createTempDirectory("log").resolve("of/ours");
        AppLog.start(folder);
        Exception trouble = new IOException("hips_secret.glb", new IllegalStateException("left_arm_secret"));
        for (int i = 0; i < 4000; i++) {
            AppLog.failed("opening", trouble);
        }
        AppLog.did("checks", 1234);
        long bytes = 0;
        try (Stream<Path> files = Files.list(folder)) {
            List<Path> all = files.toList();
            assertThat(all).hasSizeBetween(2, 4);
            for (Path file : all) {
                bytes += Files.size(file);
                // Half a megabyte and what one failure takes.
                assertThat(Files.size(file)).isLessThan((512 + 16) * 1024);
                assertThat(Files.readString(file))
                        .contains("java.io.IOException", "caused by java.lang.IllegalStateException", "AppLogTest")
                        .doesNotContain("secret");
            }
        }
        assertThat(bytes).isLessThan(4 * 600 * 1024);
        assertThat(Files.readString(folder.resolve("marrow.log"))).contains("checks: 1234 ms");
    }
}
