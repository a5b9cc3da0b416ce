package org.cleanmarrow.formats.text;

import java.nio.charset.StandardCharsets;

/** Text that is put together quickly; numbers are written so that reading them gives the same float again. */
public final class TextOut {
    private final StringBuilder text = new StringBuilder(1 << 16);

    public TextOut put(String s) {
        text.append(s);
        return this;
    }

    public TextOut put(int i) {
        text.append(i);
        return this;
    }

    /** A number without needless {@code .0}. */
    public TextOut put(float f) {
        int whole = (int) f;
        if (whole == f && (whole != 0 || Float.floatToRawIntBits(f) == 0)) {
            text.append(whole);
        } else {
            text.append(f);
        }
        return this;
    }

    /** A number rounded to so many digits behind the point, at most 15, without trailing zeros. */
    public TextOut put(double value, int digits) {
        double scaled = value * Math.pow(10, digits);
        if (!(Math.abs(scaled) < 9e15)) {
            text.append(value);
            return this;
        }
        long whole = Math.round(scaled);
        if (whole < 0) {
            text.append('-');
        }
        String plain = Long.toString(Math.abs(whole));
        String padded = "0".repeat(Math.max(0, digits + 1 - plain.length())) + plain;
        int point = padded.length() - digits;
        int end = padded.length();
        while (end > point && padded.charAt(end - 1) == '0') {
            end--;
        }
        text.append(padded, 0, point);
        if (end > point) {
            text.append('.').append(padded, point, end);
        }
        return this;
    }

    /** 1 - value, so that subtracting what was read from 1 gives the value again. */
    public TextOut putFromOne(float value) {
        float near = (float) (1.0 - value);
        if ((float) (1.0 - Double.parseDouble(Float.toString(near))) == value) {
            return put(near);
        }
        text.append(1.0 - value);
        return this;
    }

    public TextOut line() {
        text.append('\n');
        return this;
    }

    public byte[] bytes() {
        return text.toString().getBytes(StandardCharsets.UTF_8);
    }

    /** A name that a line of words can hold as its last: line ends become blanks. */
    public static String oneLine(String name) {
        return name.replaceAll("\\s+", " ").strip();
    }
}
