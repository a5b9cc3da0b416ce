package org.cleanmarrow.asset;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
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
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        out.writeBytes(new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'});
        byte[] head = ByteBuffer.allocate(13)
                .putInt(width)
                .putInt(height)
                .put(new byte[] {8, 6, 0, 0, 0})
                .array();
        chunk(out, "IHDR", head);
        chunk(out, "IDAT", deflated(raw.array()));
        chunk(out, "IEND", new byte[0]);
        return out.toByteArray();
    }

    private static byte[] deflated(byte[] raw) {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (Deflater deflater = new Deflater(Deflater.NO_COMPRESSION)) {
            deflater.setInput(raw);
            deflater.finish();
            byte[] buffer = new byte[4096];
            while (!deflater.finished()) {
                out.write(buffer, 0, deflater.deflate(buffer));
            }
        }
        return out.toByteArray();
    }

    private static void chunk(ByteArrayOutputStream out, String type, byte[] data) {
        byte[] name = type.getBytes(StandardCharsets.US_ASCII);
        CRC32 crc = new CRC32();
        crc.update(name);
        crc.update(data);
        out.writeBytes(ByteBuffer.allocate(4).putInt(data.length).array());
        out.writeBytes(name);
        out.writeBytes(data);
        out.writeBytes(ByteBuffer.allocate(4).putInt((int) crc.getValue()).array());
    }
}
