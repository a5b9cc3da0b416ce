package org.cleanmarrow.formats.delivery;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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

    private final List<Path> files = new ArrayList<>();
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

    /** @throws FileAlreadyExistsException where one of that name is there; it stays as it is */
    Path put(Written.Piece piece) throws IOException {
        Path path = folder.resolve(piece.name());
        SafeFiles.create(path, piece.bytes());
        files.add(path);
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
            for (Path file : files) {
                Files.deleteIfExists(file);
            }
        }
        held.close();
        Files.deleteIfExists(meant);
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
            }
        } catch (IOException e) {
            // Another's, which may not be touched, or gone meanwhile: no reason not to deliver.
            return;
        }
        Files.deleteIfExists(meant);
    }
}
