package org.cleanmarrow.picture;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * What an encoded picture says of itself in its first bytes; its pixels are not decoded.
 *
 * @param mimeType as registered: {@code image/png}, {@code image/jpeg}, {@code image/webp} or {@code image/ktx2}
 */
public record PictureHead(String mimeType, int width, int height) {
    private static final byte[] KTX2 = {(byte) 0xAB, 'K', 'T', 'X', ' ', '2', '0', (byte) 0xBB, '\r', '\n', 0x1A, '\n'};

    /** Empty where it is none of these, is cut off, or has no pixel. Cost: a few bytes; of a JPEG those before its frame. */
    public static Optional<PictureHead> of(byte[] bytes) {
        ByteBuffer in = ByteBuffer.wrap(bytes);
        Optional<PictureHead> head = Optional.empty();
        if (starts(bytes, 0, (byte) 0x89, (byte) 'P', (byte) 'N', (byte) 'G') && bytes.length >= 24) {
            head = Optional.of(new PictureHead("image/png", in.getInt(16), in.getInt(20)));
        } else if (starts(bytes, 0, (byte) 0xFF, (byte) 0xD8, (byte) 0xFF)) {
            head = jpeg(in);
        } else if (starts(bytes, 0, KTX2) && bytes.length >= 28) {
            in.order(ByteOrder.LITTLE_ENDIAN);
            head = Optional.of(new PictureHead("image/ktx2", in.getInt(20), in.getInt(24)));
        } else if (starts(bytes, 0, ascii("RIFF")) && starts(bytes, 8, ascii("WEBP")) && bytes.length >= 30) {
            head = webp(bytes);
        }
        return head.filter(h -> h.width > 0 && h.height > 0);
    }

    private static byte[] ascii(String text) {
        return text.getBytes(StandardCharsets.US_ASCII);
    }

    private static boolean starts(byte[] bytes, int at, byte... with) {
        for (int i = 0; i < with.length; i++) {
            if (at + i >= bytes.length || bytes[at + i] != with[i]) {
                return false;
            }
        }
        return true;
    }

    /** ITU-T T.81, B.1.1.3: segments, each with its length, up to the frame header. */
    private static Optional<PictureHead> jpeg(ByteBuffer in) {
        int at = 2;
        while (at + 9 < in.limit()) {
            if (in.get(at) != (byte) 0xFF) {
                return Optional.empty();
            }
            int marker = in.get(at + 1) & 0xFF;
            if (marker == 0xFF) {
                at++;
                continue;
            }
            boolean frame = marker >= 0xC0 && marker <= 0xCF && marker != 0xC4 && marker != 0xC8 && marker != 0xCC;
            if (frame) {
                return Optional.of(
                        new PictureHead("image/jpeg", in.getShort(at + 7) & 0xFFFF, in.getShort(at + 5) & 0xFFFF));
            }
            at += 2 + Math.max(2, in.getShort(at + 2) & 0xFFFF);
        }
        return Optional.empty();
    }

    /** RFC 9649, 2.5 to 2.7. */
    private static Optional<PictureHead> webp(byte[] bytes) {
        ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
        if (starts(bytes, 12, ascii("VP8X"))) {
            return webp((in.getInt(24) & 0xFFFFFF) + 1, (in.getInt(26) >>> 8) + 1);
        }
        if (starts(bytes, 12, ascii("VP8L")) && bytes[20] == 0x2F) {
            int bits = in.getInt(21);
            return webp((bits & 0x3FFF) + 1, (bits >>> 14 & 0x3FFF) + 1);
        }
        if (starts(bytes, 12, ascii("VP8 ")) && starts(bytes, 23, (byte) 0x9D, (byte) 0x01, (byte) 0x2A)) {
            return webp(in.getShort(26) & 0x3FFF, in.getShort(28) & 0x3FFF);
        }
        return Optional.empty();
    }

    private static Optional<PictureHead> webp(int width, int height) {
        return Optional.of(new PictureHead("image/webp", width, height));
    }
}
