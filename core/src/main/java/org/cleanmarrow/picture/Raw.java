package org.cleanmarrow.picture;

import java.awt.image.BufferedImage;
import java.awt.image.IndexColorModel;
import java.awt.image.Raster;

/**
 * The numbers of a decoded picture as they stand in the file. The platform would turn grey and profiled ones into another
 * space on the way; glTF 2.0, 3.8 has what a picture says of its colours ignored.
 */
record Raw(BufferedImage image) {

    /** An empty picture of as many channels as another. */
    static Raw like(Raw other, int width, int height) {
        boolean palette = other.image.getColorModel() instanceof IndexColorModel;
        int bands = palette ? 4 : other.image.getRaster().getNumBands();
        boolean opaque = !other.image.getColorModel().hasAlpha();
        int type = !opaque
                ? BufferedImage.TYPE_INT_ARGB
                : bands == 1 ? BufferedImage.TYPE_BYTE_GRAY : BufferedImage.TYPE_INT_RGB;
        return new Raw(new BufferedImage(width, height, type));
    }

    int width() {
        return image.getWidth();
    }

    int height() {
        return image.getHeight();
    }

    /** A row as 0xAARRGGBB. */
    void row(int y, int[] out) {
        if (image.getColorModel() instanceof IndexColorModel) {
            image.getRGB(0, y, out.length, 1, out, 0, out.length);
            return;
        }
        Raster raster = image.getRaster();
        int bands = raster.getNumBands();
        int[] numbers = raster.getPixels(0, y, out.length, 1, (int[]) null);
        int[] bits = image.getColorModel().getComponentSize();
        for (int x = 0; x < out.length; x++) {
            int at = x * bands;
            int red = eight(numbers[at], bits[0]);
            int green = bands < 3 ? red : eight(numbers[at + 1], bits[1]);
            int blue = bands < 3 ? red : eight(numbers[at + 2], bits[2]);
            int opacity = bands % 2 == 1 ? 255 : eight(numbers[at + bands - 1], bits[bands - 1]);
            out[x] = opacity << 24 | red << 16 | green << 8 | blue;
        }
    }

    private static int eight(int number, int bits) {
        return bits == 8 ? number : (int) Math.round(255.0 * number / ((1L << bits) - 1));
    }

    void setRow(int y, int[] row) {
        if (image.getType() == BufferedImage.TYPE_BYTE_GRAY) {
            for (int x = 0; x < row.length; x++) {
                image.getRaster().setSample(x, y, 0, row[x] & 0xFF);
            }
        } else {
            image.setRGB(0, y, row.length, 1, row, 0, row.length);
        }
    }
}
