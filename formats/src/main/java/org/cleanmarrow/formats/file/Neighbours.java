package org.cleanmarrow.formats.file;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Finds files that a file names, in its own folder and below, nowhere else. */
public final class Neighbours {
    /** How deep below the folder, and in how many entries, a file is looked for by its name alone. */
    private static final int DEEPEST = 5;

    private static final int MOST_ENTRIES = 20_000;

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

    /**
     * The file with the same last name somewhere in the folder or below, for names that were right where the file was made: the one
     * nearest to the folder, of those alike the first by path. Links are not followed.
     *
     * @param folder null: there is none
     * @param name   as the file names it, with any path before it
     */
    public static Optional<Path> below(@Nullable Path folder, String name) {
        String last = name.replaceFirst(".*[/\\\\]", "");
        if (folder == null || last.isBlank() || last.indexOf('\0') >= 0) {
            return Optional.empty();
        }
        try (Stream<Path> all = Files.walk(folder, DEEPEST)) {
            return all.limit(MOST_ENTRIES)
                    .filter(p -> p.getFileName() != null
                            && p.getFileName().toString().equalsIgnoreCase(last)
                            && Files.isRegularFile(p, LinkOption.NOFOLLOW_LINKS))
                    .min(Comparator.comparingInt(Path::getNameCount).thenComparing(Comparator.naturalOrder()));
        } catch (IOException | UncheckedIOException e) {
            return Optional.empty();
        }
    }
}
