package org.cleanmarrow.formats;

import org.cleanmarrow.work.Work;

/**
 * How a file is read.
 *
 * @param work       progress and cancelling
 * @param mostBytes  a longer file is refused before any of it is read; at most 2^31 - 17
 * @param neighbours whether files beside it that it names are read, from its own folder and below alone; without them what it
 *     names counts as missing
 */
public record ReadOptions(Work work, long mostBytes, boolean neighbours) {
    /** No array is longer. */
    public static final long MOST_BYTES = Integer.MAX_VALUE - 16;

    public ReadOptions {
        if (mostBytes < 1 || mostBytes > MOST_BYTES) {
            throw new IllegalArgumentException("at most " + mostBytes + " bytes");
        }
    }

    public static ReadOptions usual(Work work) {
        return new ReadOptions(work, MOST_BYTES, true);
    }

    public ReadOptions alone() {
        return new ReadOptions(work, mostBytes, false);
    }

    public ReadOptions withWork(Work other) {
        return new ReadOptions(other, mostBytes, neighbours);
    }

    public ReadOptions withMostBytes(long most) {
        return new ReadOptions(work, most, neighbours);
    }
}
