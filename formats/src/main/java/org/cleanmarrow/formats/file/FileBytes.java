package org.cleanmarrow.formats.file;

import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.lang.foreign.Arena;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.work.Work;

/** What files hold: small ones in the heap; large ones beside it, where they lie as long as anything looks at them. */
public final class FileBytes {
    /** From here on a file is large. */
    public static final int LARGE = 1 << 26;

    private static final int AT_ONCE = 1 << 24;

    private FileBytes() {}

    /**
     * The first bytes of a file, or all there are; backed by an array of just their number where they are not many.
     *
     * @param most less than 2^31 - 16
     * @param work asked between pieces of a large one whether to go on
     */
    public static ByteBuffer of(Path path, long most, Work work) throws IOException {
        long size = Math.min(Files.size(path), most);
        if (size < LARGE) {
            try (InputStream in = Files.newInputStream(path)) {
                return ByteBuffer.wrap(in.readNBytes((int) size));
            }
        }
        ByteBuffer out = Arena.ofAuto().allocate(size).asByteBuffer();
        try (FileChannel in = FileChannel.open(path)) {
            while (out.hasRemaining()) {
                work.stopIfCancelled();
                out.limit((int) Math.min(size, out.position() + (long) AT_ONCE));
                if (in.read(out) < 0) {
                    throw new EOFException(path + " became shorter while it was read");
                }
                out.limit((int) size);
            }
        }
        return out.flip();
    }

    /** An array of just these bytes; the one behind them where there is one. */
    public static byte[] array(ByteBuffer bytes) {
        if (bytes.hasArray() && bytes.array().length == bytes.limit()) {
            return bytes.array();
        }
        byte[] out = new byte[bytes.limit()];
        bytes.get(0, out);
        return out;
    }
}
