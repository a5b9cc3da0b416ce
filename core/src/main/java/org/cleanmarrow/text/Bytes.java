package org.cleanmarrow.text;

import java.util.Locale;

/** Sizes of files for people, in powers of a thousand. */
public final class Bytes {
    private static final String[] UNITS = {"bytes", "kB", "MB", "GB", "TB"};

    private Bytes() {}

    /** Such as {@code 812 bytes}, {@code 4.1 kB} or {@code 128 MB}. */
    public static String say(long bytes) {
        double size = bytes;
        int unit = 0;
        while (size >= 999.5 && unit < UNITS.length - 1) {
            size /= 1000;
            unit++;
        }
        return String.format(Locale.ROOT, unit > 0 && size < 9.95 ? "%.1f %s" : "%.0f %s", size, UNITS[unit]);
    }
}
