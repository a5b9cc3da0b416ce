package org.cleanmarrow.formats;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.checks.TargetJson;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.json.BadJson;

/** Targets as files. */
public final class TargetFiles {
    /** A target is a handful of lines; what is larger is something else. */
    private static final long MOST_BYTES = 256 * 1024;

    private TargetFiles() {}

    /** @throws ReadFailed saying where it is no target and what was expected */
    public static Target read(Path file) throws ReadFailed, IOException {
        String name = String.valueOf(file.getFileName());
        if (Files.size(file) > MOST_BYTES) {
            throw new ReadFailed(
                    name, "", "has more than " + MOST_BYTES / 1024 + " kB; expected a target, a JSON file");
        }
        try {
            return TargetJson.read(Files.readString(file));
        } catch (MalformedInputException e) {
            throw new ReadFailed(name, "", "is no text in UTF-8; expected a target, a JSON file");
        } catch (BadJson e) {
            throw new ReadFailed(name, "", String.valueOf(e.getMessage()));
        }
    }

    /** Writes a target whole or not at all, in place of what is there. */
    public static void write(Path file, Target target) throws IOException {
        SafeFiles.replace(file, TargetJson.write(target).getBytes(StandardCharsets.UTF_8));
    }
}
