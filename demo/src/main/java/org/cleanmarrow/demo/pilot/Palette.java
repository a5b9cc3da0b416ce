package org.cleanmarrow.demo.pilot;

import org.cleanmarrow.picture.Png;

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

    /** The picture as a PNG. */
    static byte[] png() {
        int width = COLUMNS * PIXELS;
        int[] pixels = new int[width * ROWS * PIXELS];
        for (int i = 0; i < pixels.length; i++) {
            int swatch = i / width / PIXELS * COLUMNS + i % width / PIXELS;
            pixels[i] = Swatch.values()[swatch].colour << 8 | 0xFF;
        }
        return Png.encode(width, ROWS * PIXELS, pixels);
    }
}
