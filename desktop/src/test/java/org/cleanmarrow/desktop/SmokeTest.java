package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.testng.annotations.Test;

/** The real program in a real window, on a virtual display. */
public class SmokeTest {
    @Test
    public void theProgramStartsShowsThePilotAndEnds() throws Exception {
        String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
        Process process = new ProcessBuilder(
                        "xvfb-run",
                        "-a",
                        "-s",
                        "-screen 0 1280x800x24",
                        java,
                        "-Xmx1g",
                        "@" + Path.of(System.getProperty("marrow.root"), "tools", "window.jvm"),
                        // It lives for seconds: the second compiler would not pay.
                        "-XX:TieredStopAtLevel=1",
                        "--enable-native-access=ALL-UNNAMED",
                        "--sun-misc-unsafe-memory-access=allow",
                        "-cp",
                        System.getProperty("java.class.path"),
                        SmokeMain.class.getName())
                .redirectErrorStream(true)
                .start();
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(120, TimeUnit.SECONDS)).as(out).isTrue();
        assertThat(out).contains("SHOWN ferry-pilot").contains("COLOURS ");
        // The system's own word for how far a thread gives way: proc_pid_stat(5), field 19.
        assertThat(out)
                .contains("NICE 0 JavaFX Applicat")
                .contains("NICE 3 viewport")
                .contains("NICE 8 checks")
                .contains("NICE 8 ForkJoinPool.co");
        assertThat(process.exitValue()).as(out).isZero();
    }
}
