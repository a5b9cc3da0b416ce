package org.cleanmarrow.formats;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import org.cleanmarrow.checks.TargetJson;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.formats.file.SmallText;
import org.cleanmarrow.json.BadJson;

/** Targets as files. */
public final class TargetFiles {
    /** A target is a handful of lines; what is larger is something else. */
    private static final long MOST_BYTES = 256 * 1024;

    private TargetFiles() {}

    /** @throws ReadFailed saying where it is no target and what was expected */
    public static Target read(Path file) throws ReadFailed, IOException {
        String text = SmallText.read(file, MOST_BYTES, "a target, a JSON file");
        try {
            return TargetJson.read(text);
        } catch (BadJson e) {
            throw new ReadFailed(String.valueOf(file.getFileName()), "", String.valueOf(e.getMessage()));
        }
    }

    /** Writes a target whole or not at all, in place of what is there. */
    public static void write(Path file, Target target) throws IOException {
        SafeFiles.replace(file, TargetJson.write(target).getBytes(StandardCharsets.UTF_8));
    }
}
