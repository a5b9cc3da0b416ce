package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Objects;
import java.util.UUID;
import org.cleanmarrow.work.Threads;

/** Writes whole files or nothing: to a temporary name in the same folder, synced to disk, then renamed. */
public final class SafeFiles {
    private SafeFiles() {}

    /** Writes a file, taking the place of one of that name. */
    public static void replace(Path path, byte[] bytes) throws IOException {
        Threads.begins("a file");
        Path temporary = writeBeside(path, bytes);
        try {
            Files.move(temporary, path, StandardCopyOption.ATOMIC_MOVE);
        } catch (AtomicMoveNotSupportedException e) {
            Files.move(temporary, path, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    /**
     * Writes a new file.
     *
     * @throws FileAlreadyExistsException where one of that name is there; it stays as it is
     */
    public static void create(Path path, byte[] bytes) throws IOException {
        create(path, bytes, Files::createLink);
    }

    /** How a finished file gets its second name. */
    interface Linker {
        void link(Path name, Path existing) throws IOException;
    }

    static void create(Path path, byte[] bytes, Linker linker) throws IOException {
        Path temporary = writeBeside(path, bytes);
        try {
            // A hard link fails where the name is taken, without a moment in between.
            linker.link(path, temporary);
        } catch (FileAlreadyExistsException e) {
            throw e;
        } catch (UnsupportedOperationException | FileSystemException e) {
            // Sticks and shares that know no links; a move takes no file's place either.
            Files.move(temporary, path);
        } finally {
            Files.deleteIfExists(temporary);
        }
    }

    /** Removes what programs that were killed left half written in a folder; that of running ones stays. */
    public static void sweep(Path folder) throws IOException {
        try (DirectoryStream<Path> left = Files.newDirectoryStream(folder, ".writing-*.tmp")) {
            for (Path file : left) {
                String[] parts = file.getFileName().toString().split("-", 3);
                if (parts.length < 3 || !isRunning(parts[1])) {
                    Files.deleteIfExists(file);
                }
            }
        }
    }

    /** @param process its number as a file's name gives it */
    public static boolean isRunning(String process) {
        return process.matches("\\d{1,10}")
                && ProcessHandle.of(Long.parseLong(process)).isPresent();
    }

    private static Path writeBeside(Path path, byte[] bytes) throws IOException {
        Path absolute = path.toAbsolutePath();
        Path folder = Objects.requireNonNullElse(absolute.getParent(), absolute);
        Files.createDirectories(folder);
        // Not createTempFile: that would keep the file to its owner, and deliveries are for others to read.
        Path temporary = folder.resolve(".writing-" + ProcessHandle.current().pid() + "-" + UUID.randomUUID() + ".tmp");
        try (FileChannel channel =
                FileChannel.open(temporary, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
            ByteBuffer buffer = ByteBuffer.wrap(bytes);
            while (buffer.hasRemaining()) {
                channel.write(buffer);
            }
            channel.force(true);
        } catch (IOException e) {
            Files.deleteIfExists(temporary);
            throw e;
        }
        return temporary;
    }
}
