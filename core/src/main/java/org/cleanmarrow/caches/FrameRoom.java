package org.cleanmarrow.caches;

import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.util.Optional;
import java.util.function.LongFunction;

/**
 * Where the frames of caches that are made lie: beside the heap, and large ones where the application has room for them, such as
 * in a file that is mapped.
 */
public final class FrameRoom {
    /** From here on frames are large. */
    public static final long LARGE = 1L << 28;

    private static volatile LongFunction<Optional<MemorySegment>> large = bytes -> Optional.empty();

    private FrameRoom() {}

    /**
     * Says where large frames go from now on.
     *
     * @param room gives so many bytes to be written, or nothing where it has no room: then they lie in memory all the same
     */
    public static void useForLarge(LongFunction<Optional<MemorySegment>> room) {
        large = room;
    }

    static MemorySegment of(long bytes) {
        Optional<MemorySegment> room = bytes < LARGE ? Optional.empty() : large.apply(bytes);
        return room.orElseGet(() -> Arena.ofAuto().allocate(bytes, Float.BYTES));
    }
}
