package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** Runs the outside witnesses of {@code tools/reference}; without Node.js the tests that ask them fail. */
final class Node {
    private Node() {}

    /** What a script prints. */
    static String run(String script, List<String> arguments) throws Exception {
        List<String> command = new ArrayList<>(List.of("node", script));
        command.addAll(arguments);
        Process process = new ProcessBuilder(command)
                .directory(Path.of(System.getProperty("marrow.root"), "tools", "reference")
                        .toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(process.waitFor(120, TimeUnit.SECONDS)).isTrue();
        assertThat(process.exitValue()).as(script + " " + arguments).isZero();
        return out;
    }
}
