package org.cleanmarrow.desktop.desk;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.SafeFiles;
import org.cleanmarrow.work.Threads;

/** Where the application keeps what outlives a session: recent files, and work to go on with. */
public final class AppFolder {
    private static final int RECENT = 8;
    private static final int MOST_KEPT = 8;
    /** Stands before the names of files with work that was put away. */
    private static final String KEPT = "kept-";
    /** Paths of files opened together; longer is no file of ours. */
    private static final int LONGEST_SOURCE = 1 << 16;

    private final Path folder;
    private final Path settings;
    private final Path ownWork;

    /**
     * Work that can be gone on with: put away, or left behind by a session that ended otherwise.
     *
     * @param source what it stands on
     * @param left   when it was last written
     */
    public record Leftover(Path file, String source, Instant left) {
        /** Name of the first file it stands on. */
        public String name() {
            String first = source.split("\0")[0];
            return first.substring(
                    Math.max(first.lastIndexOf(':'), Math.max(first.lastIndexOf('/'), first.lastIndexOf('\\'))) + 1);
        }

        /** Its ledger, as text. */
        String ledger() throws IOException {
            String text = Files.readString(file);
            return text.substring(text.indexOf('\n') + 1);
        }
    }

    /** One folder for everything. */
    public AppFolder(Path folder) {
        this(folder, folder);
    }

    private AppFolder(Path folder, Path settings) {
        this.folder = folder;
        this.settings = settings;
        ownWork = folder.resolve("work-" + ProcessHandle.current().pid() + ".recovery");
    }

    /** The platform's places for an application's own data and for what people set up. */
    public static AppFolder standard() {
        Path home = Path.of(System.getProperty("user.home"));
        String system = System.getProperty("os.name").toLowerCase(Locale.ROOT);
        if (system.contains("win")) {
            return new AppFolder(place("APPDATA", home).resolve("clean-marrow"));
        }
        if (system.contains("mac")) {
            return new AppFolder(home.resolve("Library/Application Support/clean-marrow"));
        }
        // XDG Base Directory Specification.
        return new AppFolder(
                place("XDG_DATA_HOME", home.resolve(".local/share")).resolve("clean-marrow"),
                place("XDG_CONFIG_HOME", home.resolve(".config")).resolve("clean-marrow"));
    }

    /** The platform's place for an application's log. */
    public static Path log() {
        Path home = Path.of(System.getProperty("user.home"));
        String system = System.getProperty("os.name").toLowerCase(Locale.ROOT);
        if (system.contains("win")) {
            return place("LOCALAPPDATA", home).resolve("clean-marrow").resolve("logs");
        }
        return system.contains("mac")
                ? home.resolve("Library/Logs/clean-marrow")
                // XDG Base Directory Specification.
                : place("XDG_STATE_HOME", home.resolve(".local/state")).resolve("clean-marrow");
    }

    private static Path place(String variable, Path otherwise) {
        String given = System.getenv(variable);
        return given == null || given.isBlank() ? otherwise : Path.of(given);
    }

    /** Where preferences are kept. */
    public Path preferences() {
        return settings.resolve("preferences.properties");
    }

    /** Where targets of one's own are kept. */
    public Path targets() {
        return settings.resolve("targets");
    }

    /** Where recipes of deliveries are kept. */
    Path recipes() {
        return settings.resolve("recipes");
    }

    /** Files opened lately, the newest first; only those that are still there. */
    public List<Path> recent() {
        try {
            return Files.readAllLines(folder.resolve("recent")).stream()
                    .map(Path::of)
                    .filter(Files::isRegularFile)
                    .limit(RECENT)
                    .toList();
        } catch (IOException | IllegalArgumentException e) {
            return List.of();
        }
    }

    public void remember(Path file) {
        List<String> lines = new ArrayList<>();
        lines.add(file.toAbsolutePath().toString());
        recent().stream().map(Path::toString).filter(l -> !lines.contains(l)).forEach(lines::add);
        write(folder.resolve("recent"), String.join("\n", lines.subList(0, Math.min(RECENT, lines.size()))));
    }

    /** Keeps the work as it is now: a ledger and what it stands on. */
    public void autosave(String source, String ledger) {
        write(ownWork, source + "\n" + ledger);
    }

    /** The work is closed or empty: there is nothing to recover. */
    public void forgetWork() {
        try {
            Files.deleteIfExists(ownWork);
        } catch (IOException e) {
            AppLog.failed("removing a recovery file", e);
        }
    }

    /** Keeps work that leaves the desk, so that it can be gone on with; of such work the last {@value #MOST_KEPT}. */
    void keep(String source, String ledger) throws IOException {
        long now = System.currentTimeMillis();
        while (Files.exists(kept(now))) {
            now++;
        }
        SafeFiles.replace(kept(now), (source + "\n" + ledger).getBytes(StandardCharsets.UTF_8));
        leftovers().stream()
                .filter(l -> l.file.getFileName().toString().startsWith(KEPT))
                .skip(MOST_KEPT)
                .forEach(this::discard);
    }

    private Path kept(long when) {
        return folder.resolve(KEPT + when + ".recovery");
    }

    /** Work that is on no desk, what was left last first; what cannot be read is passed over. */
    public List<Leftover> leftovers() {
        List<Leftover> out = new ArrayList<>();
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.filter(f -> f.getFileName().toString().endsWith(".recovery"))
                    .toList()) {
                if (!isAlive(file)) {
                    leftover(file).ifPresent(out::add);
                }
            }
        } catch (IOException e) {
            return List.of();
        }
        out.sort(Comparator.comparing(Leftover::left).reversed());
        return out;
    }

    private static Optional<Leftover> leftover(Path file) {
        try (BufferedReader text = Files.newBufferedReader(file)) {
            char[] start = new char[LONGEST_SOURCE];
            int count = text.read(start);
            String source = count < 0 ? "" : new String(start, 0, count);
            int line = source.indexOf('\n');
            return line <= 0
                    ? Optional.empty()
                    : Optional.of(new Leftover(
                            file,
                            source.substring(0, line),
                            Files.getLastModifiedTime(file).toInstant()));
        } catch (IOException e) {
            return Optional.empty();
        }
    }

    private boolean isAlive(Path file) {
        if (file.equals(ownWork)) {
            return true;
        }
        if (file.getFileName().toString().startsWith(KEPT)) {
            return false;
        }
        String pid = file.getFileName().toString().replaceAll("\\D", "");
        return !pid.isEmpty()
                && pid.length() < 18
                && ProcessHandle.of(Long.parseLong(pid))
                        .filter(ProcessHandle::isAlive)
                        .isPresent();
    }

    public void discard(Leftover leftover) {
        Threads.begins("a file");
        try {
            Files.deleteIfExists(leftover.file);
        } catch (IOException e) {
            AppLog.failed("removing a recovery file", e);
        }
    }

    private void write(Path file, String text) {
        try {
            SafeFiles.replace(file, text.getBytes(StandardCharsets.UTF_8));
        } catch (IOException e) {
            AppLog.failed("writing into the application's folder", e);
        }
    }
}
