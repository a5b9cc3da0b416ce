package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import java.util.stream.IntStream;
import org.cleanmarrow.formats.file.ReadFailed;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * One command over many files, each by itself in a {@link Worker}: one that ends badly stops none of the others, and is named. What
 * became of each is kept in a {@link BatchRecord}, so that a batch that was stopped can go on.
 *
 * <p>A process takes as much memory as the command itself may, and there are as many at a time as there are workers.
 */
final class Batch {
    private static final int MOST_WORKERS = 64;

    @Option(
            names = "--workers",
            paramLabel = "N",
            description = "so many files at a time, each in a process of its own; 1 to " + MOST_WORKERS)
    private Integer workers;

    @Option(
            names = "--resume",
            description = "leave out what the batch before did to files that have not changed since")
    private boolean resume;

    /** What the command is for one of its files. */
    interface Each {
        /** @param under the file's folder below the one that was given */
        List<String> arguments(Path file, Path under);
    }

    /** Whether the arguments ask for more than one file after the other. */
    boolean isAskedFor(List<Path> arguments) {
        return workers != null || resume || Inputs.areSeveral(arguments);
    }

    /**
     * Does the command to all files, as many at a time as there are workers.
     *
     * @param out   folder that is delivered to; none where nothing is
     * @param reads other files that the outcome hangs on, such as a ledger
     * @param say   takes what people are told
     * @param print takes what became of all: {@code assets} in the order of the files, each with its {@code source} and {@code exit}
     * @return the highest of the commands' codes
     */
    int run(
            List<Path> arguments,
            Optional<Path> out,
            List<Path> reads,
            Each each,
            Consumer<String> say,
            Consumer<JsonNode> print)
            throws ReadFailed, IOException {
        int many = workers == null ? 1 : workers;
        if (many < 1 || many > MOST_WORKERS) {
            say.accept("Expected --workers to be 1 to " + MOST_WORKERS + ", found " + many + ".");
            return 2;
        }
        if (resume && out.isEmpty()) {
            say.accept("--resume goes on with what stands in a folder; give it with --out.");
            return 2;
        }
        List<Inputs.Input> inputs = Inputs.of(arguments, out);
        BatchRecord record = new BatchRecord(out, inputs, reads);
        ObjectNode[] became = new ObjectNode[inputs.size()];
        AtomicInteger next = new AtomicInteger();
        AtomicInteger ended = new AtomicInteger();
        Consumer<String> aloud = text -> {
            synchronized (this) {
                say.accept(text);
            }
        };
        inParallel(Math.min(many, inputs.size()), () -> {
            Worker worker = null;
            try {
                for (int i = next.getAndIncrement(); i < became.length; i = next.getAndIncrement()) {
                    Inputs.Input input = inputs.get(i);
                    List<String> command = each.arguments(input.file(), input.under());
                    String key = record.key(input, command);
                    Optional<ObjectNode> before = resume ? record.before(input, key) : Optional.empty();
                    if (before.isPresent()) {
                        became[i] = before.get().put("resumed", true);
                    } else {
                        worker = worker == null || !worker.isAlive() ? new Worker() : worker;
                        became[i] = one(input, command, worker, aloud);
                        record.add(input, key, became[i]);
                    }
                    aloud.accept(ended.incrementAndGet() + " of " + became.length + ": " + input.file());
                }
            } finally {
                if (worker != null) {
                    worker.close();
                }
            }
        });
        ObjectNode result = JsonNodeFactory.instance.objectNode();
        ArrayNode assets = result.putArray("assets");
        List.of(became).forEach(assets::add);
        result.put("resumed", count(became, "resumed"));
        result.put("failed", count(became, "reason"));
        print.accept(result);
        return List.of(became).stream()
                .mapToInt(a -> a.path("exit").intValue())
                .max()
                .orElse(0);
    }

    private static long count(ObjectNode[] assets, String key) {
        return List.of(assets).stream().filter(a -> a.has(key)).count();
    }

    private static ObjectNode one(Inputs.Input input, List<String> command, Worker worker, Consumer<String> say) {
        ObjectNode asset =
                JsonNodeFactory.instance.objectNode().put("source", input.file().toString());
        try {
            Worker.Answer answer = worker.run(command);
            answer.said().forEach(say);
            asset.put("exit", answer.code());
            if (answer.out() instanceof ObjectNode said) {
                asset.setAll(said);
            } else {
                asset.put("reason", String.join(" ", answer.said()));
            }
        } catch (IOException e) {
            say.accept(input.file().getFileName() + ": " + e.getMessage());
            asset.put("exit", 2).put("reason", e.getMessage());
        }
        return asset;
    }

    private interface Part {
        void run() throws IOException;
    }

    private static void inParallel(int many, Part part) throws IOException {
        try (ExecutorService pool = Executors.newFixedThreadPool(many)) {
            List<Future<Object>> parts = IntStream.range(0, many)
                    .mapToObj(i -> pool.submit(() -> {
                        part.run();
                        return (Object) null;
                    }))
                    .toList();
            for (Future<Object> running : parts) {
                try {
                    running.get();
                } catch (ExecutionException e) {
                    throw new IOException(e.getCause().getMessage(), e.getCause());
                } catch (InterruptedException e) {
                    Thread.currentThread().interrupt();
                    pool.shutdownNow();
                }
            }
        }
    }
}
