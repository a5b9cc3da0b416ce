package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.file.Written;

/**
 * The files of one delivery on their way to their names, all or none. What is meant is written down first, the manifest last; where the
 * program is killed between the two, the next delivery to the folder takes away what lies there of it.
 */
final class Placing implements AutoCloseable {
    private static final String MEANT = ".delivering-";

    private final Path folder;
    private final Manifest manifest;
    private final Path meant;
    /** Held open and locked, so that programs on other machines see that it is under way; their numbers of processes say nothing here. */
    private final FileChannel held;

    private final Map<String, Path> files = new LinkedHashMap<>();
    /** Made for this delivery alone, in the folder. */
    private final Set<Path> folders = new LinkedHashSet<>();

    private boolean whole;

    /** Writes down what is meant. */
    Placing(Path folder, String name, List<Written.Piece> pieces) throws IOException {
        this.folder = folder;
        manifest = Manifest.of(name, pieces);
        meant = folder.resolve(MEANT + ProcessHandle.current().pid() + "-" + UUID.randomUUID() + ".json");
        SafeFiles.create(meant, manifest.json());
        held = FileChannel.open(meant, StandardOpenOption.WRITE);
        lock(held);
    }

    /** Locks it until it is closed; false where another has, or where nothing can be locked. */
    private static boolean lock(FileChannel channel) {
        try {
            return channel.tryLock() != null;
        } catch (OverlappingFileLockException | IOException e) {
            return false;
        }
    }

    /**
     * Puts a file in its place; one that lies there of this delivery already serves.
     *
     * @throws FileAlreadyExistsException where another of that name is there, or a folder that this delivery did not make; it stays
     *                                    as it is
     */
    Path put(Written.Piece piece) throws IOException {
        Path there = files.get(piece.name());
        if (there != null) {
            return there;
        }
        Path path = folder.resolve(piece.name());
        Path own = path.getParent();
        if (own != null && !own.equals(folder) && !folders.contains(own)) {
            Files.createDirectory(own);
            folders.add(own);
        }
        SafeFiles.create(path, piece.bytes());
        files.put(piece.name(), path);
        return path;
    }

    /** All is in place: writes the manifest. */
    Path finish() throws IOException {
        Path path = folder.resolve(manifest.name() + Manifest.ENDING);
        SafeFiles.create(path, manifest.json());
        whole = true;
        return path;
    }

    /** Takes away what was put where it did not come to its end. */
    @Override
    public void close() throws IOException {
        if (!whole) {
            for (Path file : files.values()) {
                Files.deleteIfExists(file);
            }
            for (Path own : folders) {
                deleteIfEmpty(own);
            }
        }
        held.close();
        Files.deleteIfExists(meant);
    }

    private static void deleteIfEmpty(Path folder) throws IOException {
        try {
            Files.deleteIfExists(folder);
        } catch (DirectoryNotEmptyException e) {
            // Others put something there.
            return;
        }
    }

    /** Takes away what killed programs left of deliveries that are not whole; nothing else, and nothing that was changed since. */
    static void sweep(Path folder) throws IOException {
        try (DirectoryStream<Path> left = Files.newDirectoryStream(folder, MEANT + "*.json")) {
            for (Path file : left) {
                if (!SafeFiles.isRunning(file.getFileName().toString().split("-", 3)[1])) {
                    takeAway(file, folder);
                }
            }
        }
    }

    private static void takeAway(Path meant, Path folder) throws IOException {
        try (FileChannel channel = FileChannel.open(meant, StandardOpenOption.WRITE)) {
            Optional<Manifest> manifest = lock(channel) ? Manifest.read(meant) : Optional.empty();
            if (manifest.isEmpty()) {
                return;
            }
            Path done = folder.resolve(manifest.get().name() + Manifest.ENDING);
            if (!Files.isRegularFile(done) || Files.mismatch(done, meant) >= 0) {
                for (Manifest.Entry entry : manifest.get().files()) {
                    if (Manifest.holds(folder, entry)) {
                        Files.delete(folder.resolve(entry.name()));
                    }
                }
                for (Path own : manifest.get().folders(folder)) {
                    SafeFiles.sweep(own);
                    deleteIfEmpty(own);
                }
            }
        } catch (IOException e) {
            // Another's, which may not be touched, or gone meanwhile: no reason not to deliver.
            return;
        }
        Files.deleteIfExists(meant);
    }
}
