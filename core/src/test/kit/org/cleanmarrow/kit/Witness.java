package org.cleanmarrow.kit;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** Runs the outside witnesses of {@code tools/reference}; without Node.js or Python the tests that ask them fail. */
public final class Witness {
    private static final int PATIENCE_SECONDS = 300;

    private Witness() {}

    /** What a script of Node.js prints. */
    public static String node(String script, String... arguments) throws Exception {
        return run("node", script, arguments);
    }

    /** What a script of Python with NumPy prints. */
    public static String python(String script, String... arguments) throws Exception {
        return run("/usr/bin/python3", script, arguments);
    }

    private static String run(String program, String script, String... arguments) throws Exception {
        List<String> command = new ArrayList<>(List.of(program, script));
        command.addAll(List.of(arguments));
        ProcessBuilder builder = new ProcessBuilder(command)
                .directory(Path.of(System.getProperty("marrow.root"), "tools", "reference")
                        .toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT);
        // NumPy's threads wait for each other by spinning, which other tests need the cores for.
        builder.environment().put("OPENBLAS_NUM_THREADS", "1");
        Process process = builder.start();
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as(String.join(" ", command)).isZero();
        return out;
    }
}
