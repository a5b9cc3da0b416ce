package org.cleanmarrow.batch;

import java.io.PrintWriter;
import java.util.concurrent.Callable;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What all commands share: the JSON they print, and whether it is laid out for people. */
abstract class JsonCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Option(names = "--json", description = "print one line of JSON; without it the same is laid out for reading")
    private boolean compact;

    void print(JsonNode json) {
        PrintWriter out = spec.commandLine().getOut();
        out.println(
                compact
                        ? json.toString()
                        : JsonMapper.shared().writerWithDefaultPrettyPrinter().writeValueAsString(json));
    }

    void say(String message) {
        spec.commandLine().getErr().println(message);
    }
}
