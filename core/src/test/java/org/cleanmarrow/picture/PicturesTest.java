package org.cleanmarrow.picture;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.Random;
import javax.imageio.ImageIO;
import org.testng.annotations.Test;

/** Heads and pixels of pictures; encoded and decoded by the platform's own codecs, which are not ours. */
public class PicturesTest {
    private static byte[] encoded(BufferedImage image, String format) throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        assertThat(ImageIO.write(image, format, out)).isTrue();
        return out.toByteArray();
    }

    private static BufferedImage decoded(Optional<byte[]> picture) throws Exception {
        return ImageIO.read(new ByteArrayInputStream(picture.orElseThrow()));
    }

    @Test
    public void sizesAreReadFromWhatThePlatformEncodes() throws Exception {
        for (String format : new String[] {"png", "jpeg"}) {
            byte[] picture = encoded(new BufferedImage(37, 5, BufferedImage.TYPE_INT_RGB), format);
            assertThat(PictureHead.of(picture)).contains(new PictureHead("image/" + format, 37, 5));
        }
    }

    /** Laid out by hand after RFC 9649 (2.5 to 2.7) and the KTX File Format Specification 2.0 (3). */
    @Test
    public void sizesOfOtherEncodingsAreReadFromTheirHeads() {
        ByteBuffer webp = ByteBuffer.allocate(40).order(ByteOrder.LITTLE_ENDIAN);
        webp.put("RIFF".getBytes(StandardCharsets.US_ASCII)).putInt(32);
        webp.put("WEBPVP8X".getBytes(StandardCharsets.US_ASCII)).putInt(10).putInt(0);
        webp.put(new byte[] {(byte) 0xFF, 0x03, 0, (byte) 0xFF, 0x01, 0});
        assertThat(PictureHead.of(webp.array())).contains(new PictureHead("image/webp", 1024, 512));
        ByteBuffer lossless = ByteBuffer.allocate(40).order(ByteOrder.LITTLE_ENDIAN);
        lossless.put("RIFF".getBytes(StandardCharsets.US_ASCII)).putInt(32);
        lossless.put("WEBPVP8L".getBytes(StandardCharsets.US_ASCII)).putInt(20).put((byte) 0x2F);
        lossless.putInt(299 | 199 << 14);
        assertThat(PictureHead.of(lossless.array())).contains(new PictureHead("image/webp", 300, 200));
        ByteBuffer lossy = ByteBuffer.allocate(40).order(ByteOrder.LITTLE_ENDIAN);
        lossy.put("RIFF".getBytes(StandardCharsets.US_ASCII)).putInt(32);
        lossy.put("WEBPVP8 ".getBytes(StandardCharsets.US_ASCII)).putInt(20).put(new byte[3]);
        lossy.put(new byte[] {(byte) 0x9D, 0x01, 0x2A}).putShort((short) 640).putShort((short) (0x4000 | 480));
        assertThat(PictureHead.of(lossy.array())).contains(new PictureHead("image/webp", 640, 480));
        ByteBuffer ktx = ByteBuffer.allocate(80).order(ByteOrder.LITTLE_ENDIAN);
        ktx.put(new byte[] {(byte) 0xAB, 0x4B, 0x54, 0x58, 0x20, 0x32, 0x30, (byte) 0xBB, 0x0D, 0x0A, 0x1A, 0x0A});
        ktx.putInt(0).putInt(1).putInt(256).putInt(128);
        assertThat(PictureHead.of(ktx.array())).contains(new PictureHead("image/ktx2", 256, 128));
    }

    @Test
    public void whatIsCutOffOrDamagedIsNoPictureAndNothingIsThrown() throws Exception {
        Random random = new Random(4);
        BufferedImage noise = new BufferedImage(20, 20, BufferedImage.TYPE_INT_RGB);
        for (int i = 0; i < 400; i++) {
            noise.setRGB(i % 20, i / 20, random.nextInt());
        }
        for (String format : new String[] {"png", "jpeg"}) {
            byte[] whole = encoded(noise, format);
            for (int round = 0; round < 300; round++) {
                byte[] damaged = java.util.Arrays.copyOf(whole, 1 + random.nextInt(whole.length));
                for (int k = 0; k < 3; k++) {
                    damaged[random.nextInt(damaged.length)] = (byte) random.nextInt();
                }
                PictureHead.of(damaged);
                Pixels.some(damaged, 8);
            }
        }
    }

    /** 100,000 by 100,000 in a few bytes. */
    @Test
    public void aPictureOverTheBoundIsNotDecoded() {
        byte[] bomb = Png.encode(1, 1, new int[] {-1});
        ByteBuffer.wrap(bomb).putInt(16, 100_000).putInt(20, 100_000);
        assertThat(PictureHead.of(bomb)).contains(new PictureHead("image/png", 100_000, 100_000));
        assertThat(Pixels.isReadable(bomb)).isFalse();
        assertThat(Pixels.resized(bomb, 1, 1, Pixels.Kind.DATA)).isEmpty();
    }

    /**
     * Black and white side by side are half as much light, which sRGB encodes as 188 (IEC 61966-2-1: 1.055 * 0.5^(1/2.4) -
     * 0.055 = 0.7354); as data they are 127.5.
     */
    @Test
    public void coloursAreAveragedAsLightAndDataAsTheyAre() throws Exception {
        BufferedImage board = new BufferedImage(8, 8, BufferedImage.TYPE_INT_RGB);
        for (int i = 0; i < 64; i++) {
            board.setRGB(i % 8, i / 8, (i % 8 + i / 8) % 2 == 0 ? 0xFFFFFF : 0);
        }
        byte[] picture = encoded(board, "png");
        assertThat(decoded(Pixels.resized(picture, 4, 4, Pixels.Kind.COLOUR)).getRGB(2, 1) & 0xFF)
                .isEqualTo(188);
        assertThat(decoded(Pixels.resized(picture, 4, 4, Pixels.Kind.DATA)).getRGB(2, 1) & 0xFF)
                .isEqualTo(128);
        // A third of each pixel falls onto another.
        BufferedImage three = new BufferedImage(3, 1, BufferedImage.TYPE_INT_RGB);
        three.setRGB(0, 0, 0x5A5A5A);
        assertThat(decoded(Pixels.resized(encoded(three, "png"), 2, 1, Pixels.Kind.DATA))
                                .getRGB(0, 0)
                        & 0xFF)
                .isEqualTo(60);
    }

    @Test
    public void directionsStayDirectionsAndWhatCannotBeSeenDoesNotShineThrough() throws Exception {
        BufferedImage two = new BufferedImage(2, 1, BufferedImage.TYPE_INT_RGB);
        two.setRGB(0, 0, 0xFF8080);
        two.setRGB(1, 0, 0x80FF80);
        int rgb = decoded(Pixels.resized(encoded(two, "png"), 1, 1, Pixels.Kind.NORMALS))
                .getRGB(0, 0);
        double part = 255 * (Math.sqrt(0.5) + 1) / 2;
        assertThat((double) (rgb >> 16 & 0xFF)).isCloseTo(part, org.assertj.core.data.Offset.offset(1.0));
        assertThat((double) (rgb >> 8 & 0xFF)).isCloseTo(part, org.assertj.core.data.Offset.offset(1.0));
        BufferedImage clear = new BufferedImage(2, 1, BufferedImage.TYPE_INT_ARGB);
        clear.setRGB(0, 0, 0xFFFF0000);
        clear.setRGB(1, 0, 0x0000FF00);
        assertThat(decoded(Pixels.resized(encoded(clear, "png"), 1, 1, Pixels.Kind.COLOUR))
                        .getRGB(0, 0))
                .isEqualTo(0x80FF0000);
    }

    /** The platform has grey numbers as light and would make 188 of 128. */
    @Test
    public void greyStaysGreyAndKeepsItsNumbers() throws Exception {
        BufferedImage grey = new BufferedImage(4, 4, BufferedImage.TYPE_BYTE_GRAY);
        for (int i = 0; i < 16; i++) {
            grey.getRaster().setSample(i % 4, i / 4, 0, 128);
        }
        for (String format : new String[] {"png", "jpeg"}) {
            BufferedImage out = decoded(Pixels.resized(encoded(grey, format), 2, 2, Pixels.Kind.DATA));
            assertThat(out.getRaster().getNumBands()).isEqualTo(1);
            assertThat(out.getRaster().getSample(1, 1, 0)).isEqualTo(128);
        }
    }

    @Test
    public void enlargedPicturesGoEvenlyFromPixelToPixel() throws Exception {
        BufferedImage two = new BufferedImage(2, 1, BufferedImage.TYPE_INT_RGB);
        two.setRGB(1, 0, 0xC8C8C8);
        BufferedImage out = decoded(Pixels.resized(encoded(two, "png"), 4, 1, Pixels.Kind.DATA));
        int[] row = new int[4];
        for (int x = 0; x < 4; x++) {
            row[x] = out.getRGB(x, 0) & 0xFF;
        }
        assertThat(row).containsExactly(0, 50, 150, 200);
    }
}
