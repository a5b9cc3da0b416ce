package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.util.Arrays;

/** One block of LZ4, unpacked (LZ4 Block Format Description, the token, literals, offset and match of each sequence). */
final class Lz4 {
    /** A sequence of no literals and a match as long as can be is one byte for 255. */
    static final int MOST_GROWTH = 255;

    private static final int LEAST_MATCH = 4;
    private static final int LONG = 15;

    private Lz4() {}

    /**
     * Unpacks a block.
     *
     * @param out  where to; as long as what comes out may be
     * @param from where in it to begin
     * @return how many bytes came out
     * @throws IOException where the block is broken, or more comes out
     */
    static int block(byte[] in, int start, int end, byte[] out, int from) throws IOException {
        int at = start;
        int to = from;
        while (at < end) {
            int token = in[at++] & 0xFF;
            int literals = token >> 4;
            if (literals == LONG) {
                int more;
                do {
                    more = byteAt(in, at++, end);
                    literals += more;
                    fits(literals, out.length);
                } while (more == 0xFF);
            }
            if (literals > end - at || literals > out.length - to) {
                throw new IOException("a block of LZ4 is broken");
            }
            System.arraycopy(in, at, out, to, literals);
            at += literals;
            to += literals;
            if (at == end) {
                // The last sequence has literals alone.
                return to - from;
            }
            int offset = byteAt(in, at++, end);
            offset |= byteAt(in, at++, end) << 8;
            int match = (token & LONG) + LEAST_MATCH;
            if (match == LONG + LEAST_MATCH) {
                int more;
                do {
                    more = byteAt(in, at++, end);
                    match += more;
                    fits(match, out.length);
                } while (more == 0xFF);
            }
            if (offset == 0 || offset > to - from || match > out.length - to) {
                throw new IOException("a block of LZ4 is broken");
            }
            if (offset == 1) {
                Arrays.fill(out, to, to + match, out[to - 1]);
                to += match;
            } else {
                // What is copied may reach into what was copied just now.
                for (int i = 0; i < match; i++, to++) {
                    out[to] = out[to - offset];
                }
            }
        }
        return to - from;
    }

    private static int byteAt(byte[] in, int at, int end) throws IOException {
        if (at >= end) {
            throw new IOException("a block of LZ4 ends too early");
        }
        return in[at] & 0xFF;
    }

    private static void fits(int length, int room) throws IOException {
        if (length > room + LONG + LEAST_MATCH) {
            throw new IOException("a block of LZ4 is longer than it says");
        }
    }
}
