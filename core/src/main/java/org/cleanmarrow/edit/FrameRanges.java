package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.cleanmarrow.work.Refused;

/** Named ranges of frames as a person types them: {@code open 0..71, close 73..144}, both ends counted. */
public final class FrameRanges {
    private static final Pattern RANGE = Pattern.compile("(\\S.*?)\\s+(-?\\d{1,7})\\s*\\.\\.\\s*(-?\\d{1,7})");
    private static final int MOST = 10_000;

    /** @param last counted */
    public record Range(String name, int first, int last) {}

    private FrameRanges() {}

    /** @throws Refused where a piece between commas is no name with two frames */
    public static List<Range> of(String text) throws Refused {
        List<Range> out = new ArrayList<>();
        for (String piece : text.split("[,;\\n]")) {
            if (piece.isBlank()) {
                continue;
            }
            Matcher m = RANGE.matcher(piece.strip());
            if (!m.matches() || out.size() == MOST) {
                throw new Refused("frame.ranges", piece.strip());
            }
            out.add(new Range(m.group(1), Integer.parseInt(m.group(2)), Integer.parseInt(m.group(3))));
        }
        if (out.isEmpty()) {
            throw new Refused("frame.ranges", text);
        }
        return out;
    }
}
