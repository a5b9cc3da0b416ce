package org.cleanmarrow.batch;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.io.Writer;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.MappedRoom;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * A process that does one command after the other for another: what a file can do to it, from memory that runs out to a crash, it
 * does to this process alone. Takes arguments as a JSON array a line, answers with one line, and ends with whoever started it.
 */
public final class Worker implements AutoCloseable {
    /** What became of a command. */
    record Answer(int code, JsonNode out, List<String> said) {}

    /** Begins an answer: whatever else stands on a line is the virtual machine's own. */
    private static final String ANSWER = "answer ";

    private final Process process;
    private final Writer to;
    private final BufferedReader from;

    /** @param more options of its virtual machine, beside those of this one */
    Worker(String... more) throws IOException {
        List<String> command = new ArrayList<>();
        command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
        command.addAll(ManagementFactory.getRuntimeMXBean().getInputArguments());
        command.addAll(List.of(more));
        command.addAll(List.of("-cp", System.getProperty("java.class.path"), Worker.class.getName()));
        process = new ProcessBuilder(command)
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        to = process.outputWriter(StandardCharsets.UTF_8);
        from = process.inputReader(StandardCharsets.UTF_8);
    }

    /** @throws IOException where the process ended in the midst of it */
    Answer run(List<String> arguments) throws IOException {
        to.write(JsonMapper.shared().writeValueAsString(arguments) + "\n");
        to.flush();
        String line = from.readLine();
        while (line != null && !line.startsWith(ANSWER)) {
            line = from.readLine();
        }
        if (line == null) {
            throw new IOException("The process that worked on it ended by itself, with " + ended() + ".");
        }
        JsonNode answer = JsonMapper.shared().readTree(line.substring(ANSWER.length()));
        List<String> said =
                answer.path("said").valueStream().map(JsonNode::stringValue).toList();
        return new Answer(answer.path("code").intValue(), answer.path("out"), said);
    }

    boolean isAlive() {
        return process.isAlive();
    }

    private int ended() {
        try {
            return process.waitFor();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return -1;
        }
    }

    @Override
    public void close() {
        process.destroyForcibly();
        ended();
    }

    /** The process itself. */
    public static void main(String[] none) throws IOException {
        MappedRoom.use();
        PrintStream answers = System.out;
        // Whatever a library prints must not stand among the answers.
        System.setOut(System.err);
        BufferedReader lines = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        for (String line = lines.readLine(); line != null; line = lines.readLine()) {
            String[] arguments = JsonMapper.shared()
                    .readTree(line)
                    .valueStream()
                    .map(JsonNode::stringValue)
                    .toArray(String[]::new);
            StringWriter out = new StringWriter();
            StringWriter said = new StringWriter();
            int code = Main.run(new PrintWriter(out, true), new PrintWriter(said, true), arguments);
            ObjectNode answer = JsonNodeFactory.instance.objectNode().put("code", code);
            answer.set(
                    "out", out.toString().isBlank() ? null : JsonMapper.shared().readTree(out.toString()));
            Stream<String> texts = said.toString().lines();
            texts.forEach(answer.putArray("said")::add);
            answers.write((ANSWER + answer + "\n").getBytes(StandardCharsets.UTF_8));
            answers.flush();
        }
    }
}
