package org.cleanmarrow.batch;

import java.io.IOException;
import java.nio.file.FileSystems;
import java.nio.file.FileVisitOption;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Predicate;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.file.ReadFailed;

/** The files that arguments stand for: files as they are, folders with all that can be read in them, patterns. */
final class Inputs {
    private static final int DEEPEST = 32;

    /**
     * A file to work on.
     *
     * @param under folder below the one that is delivered to, as it lay below the folder that was given; empty for a file
     */
    record Input(Path file, Path under) {}

    private Inputs() {}

    /** Whether any of the arguments may stand for several files. */
    static boolean areSeveral(List<Path> arguments) {
        return arguments.stream().anyMatch(a -> Files.isDirectory(a) || isPattern(a));
    }

    /** A file may be called like a pattern; then it is that file. */
    private static boolean isPattern(Path argument) {
        return !Files.exists(argument) && argument.toString().matches(".*[*?\\[{].*");
    }

    /**
     * In the order of the arguments, those of a folder or pattern by their paths, each once. Links to folders are not followed, and
     * names that begin with a dot are passed over.
     *
     * @param out what lies below it is passed over: it is what was delivered before
     * @throws ReadFailed where a folder or pattern stands for no file at all
     */
    static List<Input> of(List<Path> arguments, Optional<Path> out) throws ReadFailed, IOException {
        List<Input> all = new ArrayList<>();
        for (Path argument : arguments) {
            if (Files.isDirectory(argument)) {
                all.addAll(found(argument, out, Inputs::isReadable, argument, "holds no file that can be read here"));
            } else if (isPattern(argument)) {
                all.addAll(fitting(argument, out));
            } else {
                all.add(new Input(argument, Path.of("")));
            }
        }
        return all.stream().distinct().toList();
    }

    /** What fits a pattern; folders that are there are no part of it, whatever they are called. */
    private static List<Input> fitting(Path argument, Optional<Path> out) throws ReadFailed, IOException {
        Path whole = argument.toAbsolutePath().normalize();
        Path fixed = whole.getRoot();
        while (fixed.getNameCount() < whole.getNameCount()
                && Files.isDirectory(fixed.resolve(whole.getName(fixed.getNameCount())))) {
            fixed = fixed.resolve(whole.getName(fixed.getNameCount()));
        }
        Path folder = fixed;
        PathMatcher matcher = FileSystems.getDefault().getPathMatcher("glob:" + folder.relativize(whole));
        Predicate<Path> fits =
                p -> matcher.matches(folder.relativize(p.toAbsolutePath().normalize()));
        return found(folder, out, fits, argument, "no file fits this pattern");
    }

    private static boolean isReadable(Path file) {
        String name = file.getFileName().toString().toLowerCase(Locale.ROOT);
        return AssetFiles.endings().stream().anyMatch(e -> name.endsWith("." + e));
    }

    private static List<Input> found(
            Path folder, Optional<Path> out, Predicate<Path> wanted, Path argument, String otherwise)
            throws ReadFailed, IOException {
        List<Input> found = new ArrayList<>();
        if (Files.isDirectory(folder)) {
            Files.walkFileTree(folder, EnumSet.noneOf(FileVisitOption.class), DEEPEST, new SimpleFileVisitor<>() {
                @Override
                public FileVisitResult preVisitDirectory(Path at, BasicFileAttributes attributes) {
                    boolean delivered = out.isPresent()
                            && at.toAbsolutePath()
                                    .normalize()
                                    .equals(out.get().toAbsolutePath().normalize());
                    boolean hidden =
                            !at.equals(folder) && at.getFileName().toString().startsWith(".");
                    return delivered || hidden ? FileVisitResult.SKIP_SUBTREE : FileVisitResult.CONTINUE;
                }

                @Override
                public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
                    if (!Files.isDirectory(file)
                            && !file.getFileName().toString().startsWith(".")
                            && wanted.test(file)) {
                        found.add(new Input(
                                file, folder.relativize(file.resolveSibling("")).normalize()));
                    }
                    return FileVisitResult.CONTINUE;
                }

                @Override
                public FileVisitResult visitFileFailed(Path file, IOException e) {
                    // What may not be looked into holds nothing for us; the others are not stopped by it.
                    return FileVisitResult.CONTINUE;
                }
            });
        }
        if (found.isEmpty()) {
            throw new ReadFailed(
                    argument.toString(), "", otherwise + "; expected " + String.join(", ", AssetFiles.endings()));
        }
        found.sort((a, b) -> a.file().compareTo(b.file()));
        return found;
    }
}
