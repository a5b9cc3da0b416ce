package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.cleanmarrow.work.Refused;

/** Ranges of frames as a person types them, both ends counted: {@code open 0..71, close 73..144}, or without names. */
public final class FrameRanges {
    private static final Pattern RANGE = Pattern.compile("(?:(\\S.*?)\\s+)?(-?\\d{1,7})\\s*\\.\\.\\s*(-?\\d{1,7})");
    private static final int MOST = 10_000;

    /**
     * One of them.
     *
     * @param name empty where none was typed
     * @param last counted
     */
    public record Range(String name, int first, int last) {}

    private FrameRanges() {}

    /** @throws Refused where a piece between commas is no name with two frames */
    public static List<Range> of(String text) throws Refused {
        List<Range> out = parsed(text, "frame.ranges");
        for (Range range : out) {
            if (range.name.isEmpty()) {
                throw new Refused("frame.ranges", range.first + ".." + range.last);
            }
        }
        return out;
    }

    /** @throws Refused where a piece between commas is not two frames, with or without a name */
    public static List<Range> unnamed(String text) throws Refused {
        return parsed(text, "frame.ranges.unnamed");
    }

    private static List<Range> parsed(String text, String otherwise) throws Refused {
        List<Range> out = new ArrayList<>();
        for (String piece : text.split("[,;\\n]")) {
            if (piece.isBlank()) {
                continue;
            }
            Matcher m = RANGE.matcher(piece.strip());
            if (!m.matches() || out.size() == MOST) {
                throw new Refused(otherwise, piece.strip());
            }
            String name = m.group(1) == null ? "" : m.group(1);
            out.add(new Range(name, Integer.parseInt(m.group(2)), Integer.parseInt(m.group(3))));
        }
        if (out.isEmpty()) {
            throw new Refused(otherwise, text);
        }
        return out;
    }
}
