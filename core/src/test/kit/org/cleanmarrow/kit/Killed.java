package org.cleanmarrow.kit;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.nio.file.Path;

/** A program of a test's own that is killed while it is at work. */
public final class Killed {
    private Killed() {}

    /**
     * Starts a class with a main method on this class path, and kills it.
     *
     * @param argument its only one
     * @param begun    what it prints first, when it has begun
     * @param millis   how long after that it is let go on
     */
    public static void after(Class<?> main, String argument, String begun, int millis) throws Exception {
        Process process = new ProcessBuilder(
                        Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                        "-XX:TieredStopAtLevel=1",
                        "-cp",
                        System.getProperty("java.class.path"),
                        main.getName(),
                        argument)
                .start();
        try (BufferedReader said = process.inputReader()) {
            assertThat(said.readLine()).isEqualTo(begun);
            Thread.sleep(millis);
            process.destroyForcibly().waitFor();
        }
    }
}
