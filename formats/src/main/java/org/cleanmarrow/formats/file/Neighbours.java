package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Finds files that a file names, in its own folder and below, nowhere else. */
public final class Neighbours {
    private Neighbours() {}

    /**
     * The file of a plain relative name.
     *
     * @param folder null: there is none
     * @return empty where it is not there, is no file, or lies outside of the folder
     */
    public static Optional<Path> find(@Nullable Path folder, String name) {
        if (folder == null || name.isBlank() || name.startsWith("/") || name.indexOf('\0') >= 0) {
            return Optional.empty();
        }
        try {
            Path path = folder.resolve(name.replace('\\', '/')).normalize();
            boolean inside = path.startsWith(folder.normalize())
                    && Files.isRegularFile(path)
                    && path.toRealPath().startsWith(folder.toRealPath());
            return inside ? Optional.of(path) : Optional.empty();
        } catch (InvalidPathException | IOException e) {
            return Optional.empty();
        }
    }
}
