package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.probe.Motion;
import org.cleanmarrow.probe.MotionProbe;
import org.cleanmarrow.step.Work;

/**
 * Writes an asset out under a name with a version, {@code name_v003.glb}, reads it back from disk and measures
 * how far what arrived moves from what was meant. Earlier versions are kept.
 */
public final class Delivery {
    private static final Pattern VERSION = Pattern.compile("_v(\\d{3,})\\.glb$");

    private Delivery() {}

    /**
     * What was delivered.
     *
     * @param landing delivered file against the asset, frame by frame
     */
    public record Delivered(List<Path> files, int version, Motion landing) {}

    /**
     * Delivers one GLB with meshes and clips.
     *
     * @param folder made where it is not there
     * @throws IOException where it cannot be written; nothing is left behind then
     * @throws ReadFailed  where what was written cannot be read back; the file is then removed again
     */
    public static Delivered deliver(Asset asset, Path folder, Work work) throws IOException, ReadFailed {
        work.at(0, "writing");
        Files.createDirectories(folder);
        String base = legal(asset.name());
        byte[] bytes = GltfWriter.glb(asset);
        work.stopIfCancelled();
        Path path = null;
        int version = nextVersion(folder, base);
        while (path == null) {
            Path candidate = folder.resolve(String.format("%s_v%03d.glb", base, version));
            try {
                SafeFiles.create(candidate, bytes);
                path = candidate;
            } catch (FileAlreadyExistsException e) {
                version++;
            }
        }
        try {
            Asset landed = AssetFiles.open(path, work);
            return new Delivered(List.of(path), version, MotionProbe.compare(asset, landed, work));
        } catch (ReadFailed | RuntimeException e) {
            Files.deleteIfExists(path);
            throw e;
        }
    }

    /** The version that the next delivery gets: one above the highest in the folder. */
    public static int nextVersion(Path folder, String name) throws IOException {
        String base = legal(name);
        if (!Files.isDirectory(folder)) {
            return 1;
        }
        try (Stream<Path> files = Files.list(folder)) {
            return 1
                    + files.map(p -> p.getFileName().toString())
                            .filter(n -> n.startsWith(base + "_v"))
                            .map(n -> VERSION.matcher(n.substring(base.length())))
                            .filter(Matcher::matches)
                            .mapToInt(m -> parse(m.group(1)))
                            .max()
                            .orElse(0);
        }
    }

    private static int parse(String digits) {
        try {
            return Integer.parseInt(digits);
        } catch (NumberFormatException e) {
            return 0;
        }
    }

    private static String legal(String name) {
        // A delivery that is delivered again does not collect version marks.
        String plain = name.replaceAll("_v\\d{3,}$", "")
                .replaceAll("[^\\p{L}\\p{N}._-]", "_")
                .replaceAll("^\\.+", "");
        return plain.isEmpty() ? "asset" : plain;
    }
}
