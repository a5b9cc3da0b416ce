package org.cleanmarrow.formats.usd;

import java.io.IOException;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.stream.LongStream;

/** The bytes of a binary scene and how numbers are packed in them. No count or place in them is believed. */
final class UsdcBytes {
    /** Of any list or array; what says it is longer lies. */
    private static final long MOST = 1L << 27;

    private final byte[] all;
    private final ByteBuffer in;

    UsdcBytes(byte[] bytes) {
        all = bytes;
        in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    }

    int length() {
        return all.length;
    }

    /** A reader of its own at a place. */
    At at(long place) throws IOException {
        return new At(place);
    }

    /** A place that reads on. */
    final class At {
        private int at;

        private At(long place) throws IOException {
            to(place);
        }

        int place() {
            return at;
        }

        void to(long place) throws IOException {
            if (place < 0 || place > all.length) {
                throw new IOException("a place lies outside of the file: " + place);
            }
            at = (int) place;
        }

        int left() {
            return all.length - at;
        }

        private int take(long bytes) throws IOException {
            if (bytes < 0 || bytes > all.length - at) {
                throw new IOException("it ends too early: " + bytes + " bytes are missing at " + at);
            }
            int from = at;
            at += (int) bytes;
            return from;
        }

        int u8() throws IOException {
            return all[take(1)] & 0xFF;
        }

        int i32() throws IOException {
            return in.getInt(take(4));
        }

        long i64() throws IOException {
            return in.getLong(take(8));
        }

        double f64() throws IOException {
            return in.getDouble(take(8));
        }

        float f32() throws IOException {
            return in.getFloat(take(4));
        }

        float f16() throws IOException {
            return Float.float16ToFloat(in.getShort(take(2)));
        }

        String text(int length) throws IOException {
            int from = take(length);
            int end = from;
            while (end < from + length && all[end] != 0) {
                end++;
            }
            return new String(all, from, end - from, StandardCharsets.UTF_8);
        }

        /** A count of things that take at least some bytes each, here or packed. */
        int count(double leastBytes) throws IOException {
            long count = i64();
            if (count < 0 || count > MOST || count * leastBytes > all.length - at) {
                throw new IOException("a count is more than the file can hold: " + count);
            }
            return (int) count;
        }

        /**
         * What was packed by {@link Lz4} in chunks: none said means one.
         *
         * @param most bytes that may come out; fewer is no fault
         */
        byte[] unpacked(long packed, long most) throws IOException {
            int from = take(packed);
            int end = at;
            if (packed < 1 || most < 0) {
                throw new IOException("packed data are empty");
            }
            long room = Math.min(most, packed * Lz4.MOST_GROWTH);
            if (room > MOST * Long.BYTES) {
                throw new IOException("packed data would be longer than can be: " + room);
            }
            byte[] out = new byte[(int) room];
            int chunks = all[from++] & 0xFF;
            if (chunks == 0) {
                return Arrays.copyOf(out, Lz4.block(all, from, end, out, 0));
            }
            int to = 0;
            for (int c = 0; c < chunks; c++) {
                int length = end - from < Integer.BYTES ? -1 : in.getInt(from);
                from += Integer.BYTES;
                if (length < 0 || length > end - from) {
                    throw new IOException("a chunk of packed data ends too early");
                }
                to += Lz4.block(all, from, from + length, out, to);
                from += length;
            }
            return Arrays.copyOf(out, to);
        }

        /** Whole numbers as differences: the commonest, and for each two bits whether it is that or how many bytes it has. */
        int[] ints(int count) throws IOException {
            return LongStream.of(differences(count, Integer.BYTES))
                    .mapToInt(v -> (int) v)
                    .toArray();
        }

        /** The same of eight bytes. */
        long[] longs(int count) throws IOException {
            return differences(count, Long.BYTES);
        }

        private long[] differences(int count, int width) throws IOException {
            long codes = (count * 2L + 7) / 8;
            byte[] packed = unpacked(i64(), width + codes + (long) count * width);
            if (packed.length < width + codes) {
                throw new IOException("packed whole numbers are fewer than " + count);
            }
            ByteBuffer b = ByteBuffer.wrap(packed).order(ByteOrder.LITTLE_ENDIAN);
            long common = width == Integer.BYTES ? b.getInt() : b.getLong();
            int first = b.position();
            b.position(first + (int) codes);
            long[] out = new long[count];
            long value = 0;
            try {
                for (int i = 0; i < count; i++) {
                    int code = packed[first + i / 4] >> 2 * (i % 4) & 3;
                    // The longest has the width itself, the others a half and a quarter of it.
                    value += code == 0
                            ? common
                            : switch (width >> 3 - code) {
                                case 1 -> b.get();
                                case 2 -> b.getShort();
                                case 4 -> b.getInt();
                                default -> b.getLong();
                            };
                    out[i] = value;
                }
            } catch (BufferUnderflowException e) {
                throw new IOException("packed whole numbers end too early", e);
            }
            return out;
        }
    }
}
