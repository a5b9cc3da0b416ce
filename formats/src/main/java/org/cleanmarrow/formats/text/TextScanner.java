package org.cleanmarrow.formats.text;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.formats.file.ReadFailed;

/**
 * Goes through a text file word by word and line by line, and knows where it is for messages. Takes UTF-8 and ASCII as
 * they are, UTF-16 by its byte order mark, and lines that end in LF, CR LF or CR.
 */
public final class TextScanner {
    private static final int MOST_BYTES = Integer.MAX_VALUE - 16;
    private static final double[] POWERS = new double[23];

    static {
        POWERS[0] = 1;
        for (int i = 1; i < POWERS.length; i++) {
            POWERS[i] = POWERS[i - 1] * 10;
        }
    }

    private final String file;
    private final byte[] bytes;
    private final int end;
    private int at;
    private int line = 1;

    /** @throws ReadFailed where UTF-16 was announced and is not what follows */
    public TextScanner(byte[] given, String file) throws ReadFailed {
        this.file = file;
        bytes = plain(given, file);
        end = bytes.length;
        boolean marked = end >= 3 && bytes[0] == (byte) 0xEF && bytes[1] == (byte) 0xBB && bytes[2] == (byte) 0xBF;
        at = marked ? 3 : 0;
    }

    /** Text from the middle of a file, whose first line is this one. */
    public TextScanner(byte[] given, String file, int line) throws ReadFailed {
        this(given, file);
        this.line = line;
    }

    /** Reads a whole file. */
    public static byte[] bytes(Path path) throws ReadFailed {
        String name = path.getFileName().toString();
        try {
            long size = Files.size(path);
            if (size > MOST_BYTES) {
                throw new ReadFailed(name, "", "is " + size + " bytes long; at most 2 GB can be read");
            }
            return Files.readAllBytes(path);
        } catch (IOException e) {
            throw new ReadFailed(name, "", "cannot be opened (" + e.getClass().getSimpleName() + ")");
        }
    }

    private static byte[] plain(byte[] given, String file) throws ReadFailed {
        if (given.length < 2) {
            return given;
        }
        boolean big = given[0] == (byte) 0xFE && given[1] == (byte) 0xFF;
        boolean little = given[0] == (byte) 0xFF && given[1] == (byte) 0xFE;
        if (!big && !little) {
            return given;
        }
        Charset charset = big ? StandardCharsets.UTF_16BE : StandardCharsets.UTF_16LE;
        try {
            return charset.newDecoder()
                    .decode(ByteBuffer.wrap(given, 2, given.length - 2))
                    .toString()
                    .getBytes(StandardCharsets.UTF_8);
        } catch (CharacterCodingException e) {
            throw new ReadFailed(file, "", "begins as UTF-16 and then is not");
        }
    }

    /** Number of the line that is read, from 1. */
    public int line() {
        return line;
    }

    /** Share of the text that has been read. */
    public double share() {
        return end == 0 ? 1 : at / (double) end;
    }

    public ReadFailed wrong(String expected) {
        return new ReadFailed(file, "line " + line, expected);
    }

    /** Bytes left, for bounding what a count in the file may ask for. */
    public int left() {
        return end - at;
    }

    private static boolean isBlank(byte b) {
        return b == ' ' || b == '\t' || b == '\f' || b == 0x0B;
    }

    private static boolean isBreak(byte b) {
        return b == '\n' || b == '\r';
    }

    /** Passes over blanks; true where the line goes on after them. */
    public boolean more() {
        while (at < end) {
            if (isBlank(bytes[at])) {
                at++;
            } else if (bytes[at] == '\\' && isContinued()) {
                at++;
                passBreak();
            } else {
                return !isBreak(bytes[at]);
            }
        }
        return false;
    }

    private boolean isContinued() {
        return at + 1 < end && isBreak(bytes[at + 1]);
    }

    private void passBreak() {
        if (bytes[at] == '\r' && at + 1 < end && bytes[at + 1] == '\n') {
            at++;
        }
        at++;
        line++;
    }

    /** Goes to the next line that is not empty; false at the end of the text. */
    public boolean nextLine() {
        while (at < end && !isBreak(bytes[at])) {
            at++;
        }
        while (at < end) {
            if (isBreak(bytes[at])) {
                passBreak();
            } else if (isBlank(bytes[at])) {
                at++;
            } else {
                return true;
            }
        }
        return false;
    }

    /** Passes over blanks and line ends; false at the end of the text. */
    public boolean moreAnywhere() {
        while (true) {
            if (more()) {
                return true;
            }
            if (at >= end) {
                return false;
            }
            passBreak();
        }
    }

    /** The next word of the line; empty where the line is at its end. */
    public String word() {
        if (!more()) {
            return "";
        }
        int from = at;
        while (at < end && !isBlank(bytes[at]) && !isBreak(bytes[at])) {
            at++;
        }
        return new String(bytes, from, at - from, StandardCharsets.UTF_8);
    }

    /** What is left of the line, without blanks at its ends. */
    public String rest() {
        more();
        int from = at;
        while (at < end && !isBreak(bytes[at])) {
            at++;
        }
        return new String(bytes, from, at - from, StandardCharsets.UTF_8).strip();
    }

    /** True where the next word on the line begins with a byte. */
    public boolean startsWith(char c) {
        return more() && bytes[at] == c;
    }

    /** Takes one character where it is next, without passing over blanks. */
    public boolean take(char c) {
        if (at < end && bytes[at] == c) {
            at++;
            return true;
        }
        return false;
    }

    /**
     * A finite number on this line.
     *
     * @throws ReadFailed where there is none
     */
    public double number() throws ReadFailed {
        if (!more()) {
            throw wrong("expected a number, found the end of the line");
        }
        int from = at;
        boolean minus = bytes[at] == '-';
        if (minus || bytes[at] == '+') {
            at++;
        }
        long digits = 0;
        int count = 0;
        int scale = 0;
        boolean any = false;
        boolean point = false;
        while (at < end) {
            byte b = bytes[at];
            if (b >= '0' && b <= '9') {
                any = true;
                if (count < 18) {
                    digits = digits * 10 + (b - '0');
                    count += digits == 0 ? 0 : 1;
                    scale -= point ? 1 : 0;
                } else {
                    scale += point ? 0 : 1;
                }
            } else if (b == '.' && !point) {
                point = true;
            } else {
                break;
            }
            at++;
        }
        boolean ends = at >= end || isBlank(bytes[at]) || isBreak(bytes[at]);
        // Up to 2^53 digits and ten to the 22nd are exact in double, and so is what one division makes of them.
        if (any && ends && digits < 1L << 53 && scale <= 0 && scale >= -22 && count < 18) {
            double value = digits / POWERS[-scale];
            return minus ? -value : value;
        }
        return slowNumber(from);
    }

    private double slowNumber(int from) throws ReadFailed {
        at = from;
        String word = word();
        try {
            double value = Double.parseDouble(word);
            boolean plain = !word.endsWith("f") && !word.endsWith("d") && !word.endsWith("F") && !word.endsWith("D");
            if (Double.isFinite(value) && plain) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw wrong("expected a number, found \"" + shorten(word) + "\""
                + (word.matches("[-+]?\\d+,\\d+") ? "; the decimal point must be a point" : ""));
    }

    private static String shorten(String word) {
        return word.length() <= 40 ? word : word.substring(0, 37) + "...";
    }

    /** True where a number begins next on this line, without passing over it. */
    public boolean numberNext() {
        return more()
                && (bytes[at] >= '0' && bytes[at] <= '9' || bytes[at] == '-' || bytes[at] == '+' || bytes[at] == '.');
    }

    /**
     * A whole number right here, without blanks before it, ending before any other character.
     *
     * @throws ReadFailed where there is none, or it is too large
     */
    public int whole() throws ReadFailed {
        int from = at;
        boolean minus = take('-');
        long value = 0;
        int digits = 0;
        while (at < end && bytes[at] >= '0' && bytes[at] <= '9') {
            value = value * 10 + bytes[at++] - '0';
            if (++digits > 10) {
                break;
            }
        }
        if (digits == 0 || value > Integer.MAX_VALUE) {
            at = from;
            throw wrong("expected a whole number, found \"" + shorten(word()) + "\"");
        }
        return (int) (minus ? -value : value);
    }
}
