package org.cleanmarrow.demo.pilot;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.util.zip.Adler32;
import java.util.zip.CRC32;

/** The pilot's colours as one small picture; every piece of surface points into its swatch. */
final class Palette {
    private static final int COLUMNS = 4;
    private static final int ROWS = 4;
    private static final int PIXELS = 8;

    private Palette() {}

    enum Swatch {
        SKIN(0xD9A382),
        LIPS(0xB26A5C),
        HAIR(0xC9C3B6),
        EYE(0xF1EEE6),
        IRIS(0x5A7A86),
        PUPIL(0x1C1B1A),
        WOOL(0x34506B),
        CANVAS(0x6F6654),
        RUBBER(0x3C4A3A),
        OILSKIN(0xD7A63A),
        LEATHER(0x6B4630),
        STRAP(0x8A5A3B),
        BRASS(0xB88A3E),
        SCARF(0xA63D33),
        GLASS(0xBFD3CF),
        FLAME(0xFFD27A);

        private final int colour;

        Swatch(int colour) {
            this.colour = colour;
        }

        /** Texture coordinates of the middle of the swatch. */
        float u() {
            return (ordinal() % COLUMNS + 0.5f) / COLUMNS;
        }

        float v() {
            return (ordinal() / COLUMNS + 0.5f) / ROWS;
        }
    }

    /** The picture as a PNG, its pixels stored uncompressed so that the bytes never depend on a compressor. */
    static byte[] png() {
        int width = COLUMNS * PIXELS;
        int height = ROWS * PIXELS;
        ByteBuffer raw = ByteBuffer.allocate(height * (1 + width * 3));
        for (int y = 0; y < height; y++) {
            raw.put((byte) 0);
            for (int x = 0; x < width; x++) {
                int colour = Swatch.values()[y / PIXELS * COLUMNS + x / PIXELS].colour;
                raw.put((byte) (colour >> 16)).put((byte) (colour >> 8)).put((byte) colour);
            }
        }
        byte[] pixels = raw.array();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[] {(byte) 0x89, 'P', 'N', 'G', 13, 10, 26, 10});
        chunk(
                out,
                "IHDR",
                ByteBuffer.allocate(13)
                        .putInt(width)
                        .putInt(height)
                        .put((byte) 8)
                        .put((byte) 2)
                        .array());
        // One stored deflate block (RFC 1951, 3.2.4) in a zlib wrapper (RFC 1950).
        ByteBuffer data = ByteBuffer.allocate(pixels.length + 11);
        data.put((byte) 0x78).put((byte) 1).put((byte) 1);
        data.putShort(Short.reverseBytes((short) pixels.length)).putShort(Short.reverseBytes((short) ~pixels.length));
        data.put(pixels);
        Adler32 adler = new Adler32();
        adler.update(pixels);
        data.putInt((int) adler.getValue());
        chunk(out, "IDAT", data.array());
        chunk(out, "IEND", new byte[0]);
        return out.toByteArray();
    }

    private static void chunk(ByteArrayOutputStream out, String type, byte[] data) {
        ByteBuffer chunk = ByteBuffer.allocate(12 + data.length);
        chunk.putInt(data.length);
        chunk.put(type.getBytes(java.nio.charset.StandardCharsets.US_ASCII)).put(data);
        CRC32 crc = new CRC32();
        crc.update(chunk.array(), 4, 4 + data.length);
        chunk.putInt((int) crc.getValue());
        out.writeBytes(chunk.array());
    }
}
