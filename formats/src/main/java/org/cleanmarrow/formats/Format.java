package org.cleanmarrow.formats;

import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import org.cleanmarrow.formats.file.FileBytes;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * A file format: how it is known, read and written, and what it can hold. All there are stand in {@link Formats}.
 *
 * @param name    as people call it
 * @param endings of its files, without the dot; the first is written
 * @param content whether bytes are of this format beyond doubt; formats without a mark of their own say no
 * @param reader  reads it
 * @param writer  writes it; empty where it is only read
 * @param holds   what writing it keeps
 */
public record Format(
        String name,
        List<String> endings,
        Predicate<byte[]> content,
        Reader reader,
        Optional<Writer> writer,
        Set<Capability> holds) {

    /** Reads one format. */
    @FunctionalInterface
    public interface Reader {
        /**
         * @param name   of the file, for messages and for what the asset is called
         * @param folder where files lie that it may name; null: it stands alone
         * @throws ReadFailed with place and expectation; broken input of any kind ends so
         */
        Asset read(byte[] bytes, String name, @Nullable Path folder, Work work) throws ReadFailed;

        /** The same of a large file, which lies beside the heap; a format that need not have it in the heap says how. */
        default Asset readLarge(ByteBuffer bytes, String name, @Nullable Path folder, Work work) throws ReadFailed {
            return read(FileBytes.array(bytes), name, folder, work);
        }
    }

    /** Writes one format. */
    @FunctionalInterface
    public interface Writer {
        /**
         * What the format makes of an asset.
         *
         * @param base     name of the files, without ending
         * @param pictures where they are wanted; of no matter to formats that hold none
         * @throws Refused where the format cannot hold the asset at all
         */
        Written write(Asset asset, String base, Pictures pictures, Work work) throws Refused;
    }

    public String ending() {
        return endings.getFirst();
    }

    /** Whether its endings are those of files; that of a way to write another format is none. */
    public boolean opens() {
        return !ending().contains("-");
    }

    /** What an asset has and this format cannot hold; empty where all of it comes along. */
    public Optional<Message> leavesOut(Asset asset) {
        List<Message> left = Arrays.stream(Capability.values())
                .filter(c -> !holds.contains(c) && c.in(asset) > 0)
                .map(c -> c.counted(c.in(asset)))
                .toList();
        return left.isEmpty() ? Optional.empty() : Optional.of(Message.of("format.leaves.out", name, left));
    }

    static Set<Capability> allBut(Capability... not) {
        Set<Capability> out = EnumSet.allOf(Capability.class);
        Arrays.asList(not).forEach(out::remove);
        return out;
    }
}
