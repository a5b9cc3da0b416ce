package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Optional;
import org.cleanmarrow.caches.FrameRoom;

/**
 * Room for the frames of large caches in files for a while, which are mapped: the system keeps in memory what is looked at. They
 * go with the last that looks at them, or with the program.
 */
public final class MappedRoom {
    private MappedRoom() {}

    /** From now on large frames lie there. */
    public static void use() {
        FrameRoom.useForLarge(MappedRoom::of);
    }

    /** So many bytes, all zero; empty where the disk has not twice as much left: a mapped file must never run out of it. */
    public static Optional<MemorySegment> of(long bytes) {
        try {
            Path file = Files.createTempFile("marrow-frames", ".bin");
            boolean fits = Files.getFileStore(file).getUsableSpace() / 2 >= bytes;
            try (FileChannel channel = FileChannel.open(
                    file, StandardOpenOption.READ, StandardOpenOption.WRITE, StandardOpenOption.DELETE_ON_CLOSE)) {
                return fits
                        ? Optional.of(channel.map(FileChannel.MapMode.READ_WRITE, 0, bytes, Arena.ofAuto()))
                        : Optional.empty();
            }
        } catch (IOException e) {
            return Optional.empty();
        }
    }
}
