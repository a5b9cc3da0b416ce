package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Files of a few lines that people write. */
public final class SmallText {
    private SmallText() {}

    /**
     * What stands in a file.
     *
     * @param most     bytes; what is larger is something else
     * @param expected what it should be, such as "a target, a JSON file"
     * @throws ReadFailed where it is larger, or no text in UTF-8
     */
    public static String read(Path file, long most, String expected) throws ReadFailed, IOException {
        String name = String.valueOf(file.getFileName());
        if (Files.size(file) > most) {
            throw new ReadFailed(name, "", "has more than " + most / 1024 + " kB; expected " + expected);
        }
        try {
            return Files.readString(file);
        } catch (MalformedInputException e) {
            throw new ReadFailed(name, "", "is no text in UTF-8; expected " + expected);
        }
    }
}
