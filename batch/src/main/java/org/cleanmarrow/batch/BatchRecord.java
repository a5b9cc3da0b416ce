package org.cleanmarrow.batch;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * What became of the files of batches, a line of JSON a file in {@value #NAME} in the folder that was delivered to: {@code source},
 * {@code key}, {@code asset} as the batch told it. The key is a digest of all that the outcome hangs on: the command, what it reads
 * besides, the file, and, where a file names others, what lies in its folder. A line that a killed program left half is passed over.
 */
final class BatchRecord {
    static final String NAME = "batch.jsonl";
    /** Endings of files that hold all they need. */
    private static final Set<String> WHOLE = Set.of("glb", "ply", "bvh");

    private static final int DEEPEST = 4;

    private final Optional<Path> file;
    private final Set<Path> inputs = new HashSet<>();
    private final String common;
    private final Map<Path, String> folders = new ConcurrentHashMap<>();
    private final Map<String, JsonNode> before = new HashMap<>();

    /** @param reads what the outcome hangs on beside the inputs */
    BatchRecord(Optional<Path> out, List<Inputs.Input> inputs, List<Path> reads) throws IOException {
        file = out.map(folder -> folder.resolve(NAME));
        inputs.forEach(i -> this.inputs.add(plain(i.file())));
        MessageDigest digest = sha256();
        for (String version : new Version().getVersion()) {
            digest.update(version.getBytes(StandardCharsets.UTF_8));
        }
        for (Path path : reads) {
            digest.update(Files.readAllBytes(path));
        }
        common = HexFormat.of().formatHex(digest.digest());
        if (file.isPresent() && Files.isRegularFile(file.get())) {
            read(Files.readAllLines(file.get(), StandardCharsets.UTF_8));
        }
    }

    private void read(List<String> lines) {
        for (String line : lines) {
            try {
                JsonNode json = JsonMapper.shared().readTree(line);
                before.put(json.path("source").stringValue(""), json);
            } catch (JacksonException e) {
                // Left half by a program that was killed: that file is done again.
            }
        }
    }

    private static Path plain(Path path) {
        return path.toAbsolutePath().normalize();
    }

    private static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Empty where the file cannot be read; what is wrong with it then, the command says. */
    String key(Inputs.Input input, List<String> command) {
        MessageDigest digest = sha256();
        digest.update((common + String.join("\0", command)).getBytes(StandardCharsets.UTF_8));
        try (InputStream in = Files.newInputStream(input.file())) {
            byte[] some = new byte[1 << 16];
            for (int n = in.read(some); n >= 0; n = in.read(some)) {
                digest.update(some, 0, n);
            }
        } catch (IOException e) {
            return "";
        }
        String name = input.file().getFileName().toString();
        if (!WHOLE.contains(name.substring(name.lastIndexOf('.') + 1).toLowerCase(java.util.Locale.ROOT))) {
            Path folder = plain(input.file()).getParent();
            digest.update(folders.computeIfAbsent(folder, this::around).getBytes(StandardCharsets.UTF_8));
        }
        return HexFormat.of().formatHex(digest.digest());
    }

    /** Names, sizes and times of what lies in a folder and those below, but for the inputs and what was delivered. */
    private String around(Path folder) {
        StringBuilder out = new StringBuilder();
        Optional<Path> delivered = file.map(f -> plain(f).getParent());
        try (Stream<Path> all = Files.walk(folder, DEEPEST)) {
            for (Path path : all.sorted().toList()) {
                boolean counts = Files.isRegularFile(path)
                        && !inputs.contains(path)
                        && !path.getFileName().toString().startsWith(".")
                        && delivered.filter(path::startsWith).isEmpty();
                if (counts) {
                    out.append(path).append(' ').append(Files.size(path)).append(' ');
                    out.append(Files.getLastModifiedTime(path)).append('\n');
                }
            }
        } catch (IOException | java.io.UncheckedIOException e) {
            // What cannot be looked at counts as changed.
            return String.valueOf(System.nanoTime());
        }
        return out.toString();
    }

    /** What became of a file the last time, where nothing has changed since, it did not fail and what it delivered is there. */
    Optional<ObjectNode> before(Inputs.Input input, String key) {
        JsonNode line = before.get(plain(input.file()).toString());
        return line != null
                        && line.path("key").stringValue("").equals(key)
                        && line.path("asset") instanceof ObjectNode asset
                        && !asset.has("reason")
                        && asset.path("files").valueStream().allMatch(f -> Files.exists(Path.of(f.stringValue())))
                ? Optional.of(asset.deepCopy())
                : Optional.empty();
    }

    /** Keeps what became of a file, on the disk when this is over. */
    synchronized void add(Inputs.Input input, String key, ObjectNode asset) throws IOException {
        if (file.isEmpty()) {
            return;
        }
        ObjectNode line = JsonNodeFactory.instance.objectNode();
        line.put("source", plain(input.file()).toString()).put("key", key).set("asset", asset);
        Files.createDirectories(plain(file.get()).getParent());
        try (FileChannel channel = FileChannel.open(
                file.get(), StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE)) {
            ByteBuffer last = ByteBuffer.allocate(1);
            boolean half = channel.size() > 0 && channel.read(last, channel.size() - 1) == 1 && last.get(0) != '\n';
            channel.position(channel.size());
            ByteBuffer bytes = ByteBuffer.wrap(((half ? "\n" : "") + line + "\n").getBytes(StandardCharsets.UTF_8));
            while (bytes.hasRemaining()) {
                channel.write(bytes);
            }
            channel.force(true);
        }
    }
}
