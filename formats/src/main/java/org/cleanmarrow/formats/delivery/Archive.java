package org.cleanmarrow.formats.delivery;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.LocalDateTime;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.text.Bytes;
import org.cleanmarrow.work.Refused;

/** Files in one archive, in a folder of the delivery's name. The same files give the same bytes: times are left at the first there is. */
final class Archive {
    private static final LocalDateTime FIRST = LocalDateTime.of(1980, 1, 1, 0, 0);
    private static final long MOST_BYTES = 1L << 30;

    private Archive() {}

    static byte[] of(String folder, List<Written.Piece> pieces) throws Refused {
        long all = pieces.stream().mapToLong(p -> p.bytes().length).sum();
        if (all > MOST_BYTES) {
            throw new Refused("zip.large", Bytes.say(all), Bytes.say(MOST_BYTES));
        }
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ZipOutputStream zip = new ZipOutputStream(bytes)) {
            for (Written.Piece piece : pieces) {
                ZipEntry entry = new ZipEntry(folder + "/" + piece.name());
                entry.setTimeLocal(FIRST);
                zip.putNextEntry(entry);
                zip.write(piece.bytes());
                zip.closeEntry();
            }
        } catch (IOException e) {
            // Memory is no disk.
            throw new UncheckedIOException(e);
        }
        return bytes.toByteArray();
    }
}
