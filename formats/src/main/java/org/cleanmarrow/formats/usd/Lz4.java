package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.util.Arrays;

/** One block of LZ4, unpacked (LZ4 Block Format Description: the token, literals, offset and match of each sequence). */
final class Lz4 {
    /** A sequence of no literals and a match as long as can be is one byte for 255. */
    static final int MOST_GROWTH = 255;

    private static final int LEAST_MATCH = 4;
    private static final int LONG = 15;

    private final byte[] in;
    private final int end;
    private final byte[] out;
    private int at;

    private Lz4(byte[] in, int start, int end, byte[] out) {
        this.in = in;
        this.end = end;
        this.out = out;
        at = start;
    }

    /**
     * Unpacks a block.
     *
     * @param out  where to; as long as what comes out may be
     * @param from where in it to begin
     * @return how many bytes came out
     * @throws IOException where the block is broken, or more comes out
     */
    static int block(byte[] in, int start, int end, byte[] out, int from) throws IOException {
        return new Lz4(in, start, end, out).unpack(from);
    }

    private int unpack(int from) throws IOException {
        int to = from;
        while (at < end) {
            int token = next();
            int literals = length(token >> 4);
            if (literals > end - at || literals > out.length - to) {
                throw new IOException("a block of LZ4 is broken");
            }
            System.arraycopy(in, at, out, to, literals);
            at += literals;
            to += literals;
            if (at == end) {
                // The last sequence has literals alone.
                break;
            }
            int offset = next() | next() << 8;
            int match = length(token & LONG) + LEAST_MATCH;
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

    /** A length of four bits, or with more bytes as long as they are full. */
    private int length(int bits) throws IOException {
        int length = bits;
        for (int more = 0xFF; more == 0xFF && bits == LONG; ) {
            more = next();
            length += more;
            if (length > out.length + LONG) {
                throw new IOException("a block of LZ4 is longer than it says");
            }
        }
        return length;
    }

    private int next() throws IOException {
        if (at >= end) {
            throw new IOException("a block of LZ4 ends too early");
        }
        return in[at++] & 0xFF;
    }
}
