package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import org.cleanmarrow.formats.file.Written;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * What one delivery consists of, written as {@code name_v003.manifest.json} when all of it lies in place: a delivery without one is
 * not whole. The same files give the same bytes.
 *
 * @param name  the delivery's name with its version
 * @param files in the order of the delivery, the one to be opened first
 */
public record Manifest(String name, List<Entry> files) {
    static final String ENDING = ".manifest.json";
    /** Longer ones are none of ours: about a hundred thousand files. */
    private static final long MOST_BYTES = 16 << 20;

    /** A file, or a folder and a file: nothing that leads outside, on any system, and nothing hidden. */
    private static final Pattern NAME = Pattern.compile("([^./\\\\:][^/\\\\:]*/)?[^./\\\\:][^/\\\\:]*");

    /**
     * One file.
     *
     * @param name   in the delivery's folder; pictures may have a folder of their own in it, before a slash
     * @param sha256 of its bytes, 64 digits and letters (FIPS 180-4)
     */
    public record Entry(String name, long bytes, String sha256) {}

    public Manifest {
        files = List.copyOf(files);
    }

    static Manifest of(String name, List<Written.Piece> pieces) {
        return new Manifest(
                name,
                pieces.stream()
                        .map(p -> new Entry(p.name(), p.bytes().length, sum(p.bytes())))
                        .toList());
    }

    byte[] json() {
        ObjectNode json = JsonNodeFactory.instance.objectNode();
        json.put("manifest", 1).put("delivery", name);
        ArrayNode list = json.putArray("files");
        for (Entry entry : files) {
            list.addObject().put("name", entry.name).put("bytes", entry.bytes).put("sha256", entry.sha256);
        }
        return JsonMapper.shared().writerWithDefaultPrettyPrinter().writeValueAsBytes(json);
    }

    /** Empty where it is none, or names anything outside of its folder. */
    static Optional<Manifest> read(Path file) throws IOException {
        if (Files.size(file) > MOST_BYTES) {
            return Optional.empty();
        }
        try {
            JsonNode json = JsonMapper.shared().readTree(Files.readAllBytes(file));
            List<Entry> files = new ArrayList<>();
            for (JsonNode entry : json.path("files")) {
                String name = entry.path("name").stringValue("");
                if (!NAME.matcher(name).matches() || Path.of(name).isAbsolute()) {
                    return Optional.empty();
                }
                files.add(new Entry(
                        name,
                        entry.path("bytes").longValue(-1),
                        entry.path("sha256").stringValue("")));
            }
            String name = json.path("delivery").stringValue("");
            return name.isEmpty() ? Optional.empty() : Optional.of(new Manifest(name, files));
        } catch (JacksonException | IllegalArgumentException e) {
            return Optional.empty();
        }
    }

    /** The folders in a folder that its files lie in, those that are there and no link. */
    List<Path> folders(Path folder) {
        return files.stream()
                .filter(f -> f.name.contains("/"))
                .map(f -> folder.resolve(f.name.substring(0, f.name.indexOf('/'))))
                .distinct()
                .filter(f -> Files.isDirectory(f, LinkOption.NOFOLLOW_LINKS))
                .toList();
    }

    /** Whether a file of that name lies in a folder with the very same bytes. */
    static boolean holds(Path folder, Entry entry) throws IOException {
        Path file = folder.resolve(entry.name);
        Path own = file.getParent();
        return (own == null || own.equals(folder) || Files.isDirectory(own, LinkOption.NOFOLLOW_LINKS))
                && Files.isRegularFile(file)
                && Files.size(file) == entry.bytes
                && sum(Files.readAllBytes(file)).equals(entry.sha256);
    }

    private static String sum(byte[] bytes) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
