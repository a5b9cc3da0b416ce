package org.cleanmarrow.desktop.viewport;

/** Twelve hues of about equal lightness, for what is told apart by colour: joints, islands. */
public final class Hues {
    private static final int[] TWELVE = {
        0xC9695B, 0x5B8FC9, 0xB79A3E, 0x6BAF7A, 0xA678C4, 0x49A6A6, 0xC98A4B, 0x7B85D6, 0x98AA4A, 0xC56C97, 0x5FA9CB,
        0xA98467
    };

    static final int COUNT = TWELVE.length;

    private Hues() {}

    /** Red, green and blue of a thing by its number, from 0 on; the thirteenth has that of the first. */
    public static int of(int number) {
        return TWELVE[number % COUNT];
    }
}
