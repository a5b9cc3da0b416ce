package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;

/** Says what went wrong with a file: which, what was expected, and what to do. */
public final class FileTroubles {
    private FileTroubles() {}

    /** A sentence for people; other exceptions say theirs themselves. */
    public static String say(Exception e) {
        String file = e instanceof FileSystemException f && f.getFile() != null ? f.getFile() : "";
        String reason = e instanceof FileSystemException f && f.getReason() != null ? f.getReason() : "";
        return switch (e) {
            case NoSuchFileException x -> file + ": there is no such file or folder; expected one that can be read.";
            case AccessDeniedException x ->
                file + ": there is no right to read or write it; expected that, or another place.";
            case NotDirectoryException x -> file + ": is a file where a folder was expected; name another.";
            case FileAlreadyExistsException x ->
                file + ": is there already, and is not a folder or not to be written over; name another.";
            case FileSystemException x ->
                file + ": " + (reason.isEmpty() ? "cannot be read or written" : reason)
                        + (reason.contains("space") ? "; make room or name another place." : ".");
            case IOException x -> e.getMessage() == null ? "The file cannot be read or written." : e.getMessage();
            default -> e.getMessage() == null ? e.toString() : e.getMessage();
        };
    }
}
