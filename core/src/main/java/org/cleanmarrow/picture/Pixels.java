package org.cleanmarrow.picture;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.util.Iterator;
import java.util.Optional;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageReadParam;
import javax.imageio.ImageReader;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.stream.ImageInputStream;
import javax.imageio.stream.MemoryCacheImageInputStream;
import javax.imageio.stream.MemoryCacheImageOutputStream;

/**
 * The pixels of PNG and JPEG pictures, the two that every glTF reader takes (2.0, 3.8.3), eight bits a channel.
 *
 * <p>A picture of more than {@link #MOST_PIXELS} is never decoded, whatever its bytes say: four bytes each in memory.
 */
public final class Pixels {
    /** 8192 by 8192. */
    public static final long MOST_PIXELS = 1L << 26;

    private static final float JPEG_QUALITY = 0.95f;
    /** What a picture's numbers stand for, which decides how they may be averaged. */
    public enum Kind {
        /** Colours in sRGB, averaged as light. */
        COLOUR,
        /** Numbers averaged as they are. */
        DATA,
        /** Directions, of unit length again after they were averaged. */
        NORMALS
    }

    private Pixels() {}

    /** True where the picture can be decoded here: a PNG or JPEG within the bound. */
    public static boolean isReadable(byte[] picture) {
        return PictureHead.of(picture)
                .filter(h -> h.mimeType().equals("image/png") || h.mimeType().equals("image/jpeg"))
                .filter(h -> (long) h.width() * h.height() <= MOST_PIXELS)
                .isPresent();
    }

    /** @param argb row after row from the top, 0xAARRGGBB */
    public record Some(int width, int height, int[] argb) {}

    /**
     * Some pixels evenly over the picture; empty where it cannot be decoded.
     *
     * @param side of so many each way, or up to twice as many
     */
    public static Optional<Some> some(byte[] picture, int side) {
        return decoded(picture, side).map(raw -> {
            int[] all = new int[raw.width() * raw.height()];
            int[] row = new int[raw.width()];
            for (int y = 0; y < raw.height(); y++) {
                raw.row(y, row);
                System.arraycopy(row, 0, all, y * row.length, row.length);
            }
            return new Some(raw.width(), raw.height(), all);
        });
    }

    /** A picture as PNG, compressed. */
    public static byte[] png(Some picture) {
        BufferedImage image = new BufferedImage(picture.width, picture.height, BufferedImage.TYPE_INT_RGB);
        image.setRGB(0, 0, picture.width, picture.height, picture.argb, 0, picture.width);
        try {
            return encoded(image, false);
        } catch (IOException e) {
            throw new IllegalStateException("writing to memory", e);
        }
    }

    /**
     * The picture in another size, encoded as it was: a JPEG stays one, all else becomes a PNG. Shrunk by averaging over the area
     * that falls onto a pixel, enlarged linearly between pixels.
     *
     * @return empty where it cannot be decoded
     */
    public static Optional<byte[]> resized(byte[] picture, int width, int height, Kind kind) {
        Optional<Raw> from = decoded(picture, Integer.MAX_VALUE);
        if (from.isEmpty()) {
            return Optional.empty();
        }
        boolean jpeg = PictureHead.of(picture).orElseThrow().mimeType().equals("image/jpeg");
        Raw to = Raw.like(from.get(), width, height);
        Resizing.resize(from.get(), to, kind);
        try {
            return Optional.of(encoded(to.image(), jpeg));
        } catch (IOException e) {
            throw new IllegalStateException("writing to memory", e);
        }
    }

    private static byte[] encoded(BufferedImage image, boolean jpeg) throws IOException {
        ImageWriter writer =
                ImageIO.getImageWritersByFormatName(jpeg ? "jpeg" : "png").next();
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        try (MemoryCacheImageOutputStream stream = new MemoryCacheImageOutputStream(out)) {
            ImageWriteParam how = writer.getDefaultWriteParam();
            if (jpeg) {
                how.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
                how.setCompressionQuality(JPEG_QUALITY);
            }
            writer.setOutput(stream);
            writer.write(null, new IIOImage(image, null, null), how);
        } finally {
            writer.dispose();
        }
        return out.toByteArray();
    }

    /** @param most pixels that are wanted along a side; others are left out where there are more */
    private static Optional<Raw> decoded(byte[] picture, int most) {
        if (!isReadable(picture)) {
            return Optional.empty();
        }
        try (ImageInputStream in = new MemoryCacheImageInputStream(new ByteArrayInputStream(picture))) {
            Iterator<ImageReader> readers = ImageIO.getImageReaders(in);
            if (!readers.hasNext()) {
                return Optional.empty();
            }
            ImageReader reader = readers.next();
            try {
                reader.setInput(in, true, true);
                // What the decoder found must be what the head said, or the bound would not hold.
                if ((long) reader.getWidth(0) * reader.getHeight(0) > MOST_PIXELS) {
                    return Optional.empty();
                }
                ImageReadParam how = reader.getDefaultReadParam();
                int every = Math.max(1, Math.max(reader.getWidth(0), reader.getHeight(0)) / most);
                how.setSourceSubsampling(every, every, 0, 0);
                return Optional.of(new Raw(reader.read(0, how)));
            } finally {
                reader.dispose();
            }
        } catch (IOException | RuntimeException e) {
            // The platform's decoders answer a damaged picture with either.
            return Optional.empty();
        }
    }
}
