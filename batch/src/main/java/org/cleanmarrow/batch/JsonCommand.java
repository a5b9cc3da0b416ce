package org.cleanmarrow.batch;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import org.cleanmarrow.formats.file.ReadFailed;
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

    /**
     * The text of a file that is named on the command line.
     *
     * @throws ReadFailed where it is not there or is no file
     */
    static String text(Path file) throws ReadFailed, IOException {
        String name = String.valueOf(file.getFileName());
        if (Files.isDirectory(file)) {
            throw new ReadFailed(name, "", "is a folder; expected a ledger, a JSON file");
        }
        if (!Files.exists(file)) {
            throw new ReadFailed(name, "", "there is no such file; expected a ledger, a JSON file");
        }
        try {
            return Files.readString(file);
        } catch (MalformedInputException e) {
            throw new ReadFailed(name, "", "is no text in UTF-8; expected a ledger, a JSON file");
        }
    }
}
