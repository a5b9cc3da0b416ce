package org.cleanmarrow.tests;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import org.testng.annotations.Test;

/** The application by itself, as {@code tools/package-test.sh} makes it, moves it and uses it. */
public class PackageTest {
    @Test
    public void thePackagedApplicationStartsInspectsAndTakesItsPicture() throws Exception {
        Path script = Path.of(System.getProperty("marrow.root"), "tools", "package-test.sh");
        ProcessBuilder builder = new ProcessBuilder(script.toString()).redirectErrorStream(true);
        // What Maven is testing is what is packaged; building it again beside that would take it away.
        builder.environment().put("MARROW_BUILT", "1");
        Process process = builder.start();
        String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor()).as(said).isZero();
        assertThat(said).contains("starts, inspects and takes its picture");
    }
}
