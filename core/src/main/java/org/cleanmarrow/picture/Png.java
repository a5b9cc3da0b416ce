package org.cleanmarrow.picture;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.zip.CRC32;
import java.util.zip.Deflater;

/**
 * Encodes pictures as PNG (ISO/IEC 15948): eight bits a channel, red, green, blue and opacity, no
 * filter, and stored as they are so that the bytes never depend on a compressor.
 */
public final class Png {
    private Png() {}

    /**
     * A picture.
     *
     * @param rgba width x height numbers of the form 0xRRGGBBAA, row after row from the top
     */
    public static byte[] encode(int width, int height, int[] rgba) {
        ByteBuffer raw = ByteBuffer.allocate(height * (1 + width * 4));
        for (int y = 0; y < height; y++) {
            raw.put((byte) 0);
            for (int x = 0; x < width; x++) {
                raw.putInt(rgba[y * width + x]);
            }
        }
        byte[] head = ByteBuffer.allocate(13)
                .putInt(width)
                .putInt(height)
                .put(new byte[] {8, 6, 0, 0, 0})
                .array();
        byte[] pixels = deflated(raw.array());
        ByteBuffer out = ByteBuffer.allocate(8 + 3 * 12 + head.length + pixels.length);
        out.put(new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'});
        chunk(out, "IHDR", head);
        chunk(out, "IDAT", pixels);
        chunk(out, "IEND", new byte[0]);
        return out.array();
    }

    private static byte[] deflated(byte[] raw) {
        try (Deflater deflater = new Deflater(Deflater.NO_COMPRESSION)) {
            deflater.setInput(raw);
            deflater.finish();
            // Stored blocks add a few bytes for each 16 kB or more.
            byte[] out = new byte[raw.length + raw.length / 1000 + 64];
            return Arrays.copyOf(out, deflater.deflate(out));
        }
    }

    private static void chunk(ByteBuffer out, String type, byte[] data) {
        byte[] name = type.getBytes(StandardCharsets.US_ASCII);
        CRC32 crc = new CRC32();
        crc.update(name);
        crc.update(data);
        out.putInt(data.length).put(name).put(data).putInt((int) crc.getValue());
    }
}
