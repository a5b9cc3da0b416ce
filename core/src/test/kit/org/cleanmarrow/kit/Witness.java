package org.cleanmarrow.kit;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Runs the outside witnesses of {@code tools/reference}; without Node.js or Python the tests that ask them fail. */
public final class Witness {
    private static final int PATIENCE_SECONDS = 300;

    private static Process validator;

    private Witness() {}

    /**
     * What the Khronos validator says of a glTF file, warnings too. It is started once and asked again: most of its work is to
     * start.
     */
    public static synchronized JsonNode validated(Path file) throws Exception {
        if (validator == null || !validator.isAlive()) {
            validator = start("node", "validate.mjs");
        }
        validator.outputWriter().write(file.toAbsolutePath() + "\n");
        validator.outputWriter().flush();
        String line = validator.inputReader().readLine();
        assertThat(line).as("the validator answers of %s", file).isNotNull();
        JsonNode said = JsonMapper.shared().readTree(line);
        assertThat(said.path("file").stringValue())
                .isEqualTo(file.toAbsolutePath().toString());
        return said;
    }

    /** What a script of Node.js prints. */
    public static String node(String script, String... arguments) throws Exception {
        return run("node", script, arguments);
    }

    /** What a script of Python with NumPy prints. */
    public static String python(String script, String... arguments) throws Exception {
        return run("/usr/bin/python3", script, arguments);
    }

    private static String run(String program, String script, String... arguments) throws Exception {
        Process process = start(program, script, arguments);
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue())
                .as("%s of %s", script, List.of(arguments))
                .isZero();
        return out;
    }

    private static Process start(String program, String script, String... arguments) throws IOException {
        List<String> command = new ArrayList<>(List.of(program, script));
        command.addAll(List.of(arguments));
        ProcessBuilder builder = new ProcessBuilder(command)
                .directory(Path.of(System.getProperty("marrow.root"), "tools", "reference")
                        .toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT);
        // NumPy's threads wait for each other by spinning, which other tests need the cores for.
        builder.environment().put("OPENBLAS_NUM_THREADS", "1");
        return builder.start();
    }
}
