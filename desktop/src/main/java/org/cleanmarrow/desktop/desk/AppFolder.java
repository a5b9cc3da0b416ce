package org.cleanmarrow.desktop.desk;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.cleanmarrow.formats.file.SafeFiles;

/** Where the application keeps what outlives a session: recent files, and work to be recovered. */
public final class AppFolder {
    private static final int RECENT = 8;
    private final Path folder;
    private final Path settings;
    private final Path ownWork;

    /** Work that a session left behind without closing. */
    public record Leftover(Path file, String source, String ledger) {
        /** Name of the first file it stands on. */
        public String name() {
            String first = source.split("\0")[0];
            return first.substring(Math.max(first.lastIndexOf('/'), first.lastIndexOf('\\')) + 1);
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

    /** Work left by a session that is no longer running. */
    public Optional<Leftover> leftover() {
        try (Stream<Path> files = Files.list(folder)) {
            for (Path file : files.filter(f -> f.getFileName().toString().endsWith(".recovery"))
                    .toList()) {
                if (isAlive(file)) {
                    continue;
                }
                String text = Files.readString(file);
                int line = text.indexOf('\n');
                if (line > 0) {
                    return Optional.of(new Leftover(file, text.substring(0, line), text.substring(line + 1)));
                }
            }
        } catch (IOException | IllegalArgumentException e) {
            return Optional.empty();
        }
        return Optional.empty();
    }

    private boolean isAlive(Path file) {
        if (file.equals(ownWork)) {
            return true;
        }
        String pid = file.getFileName().toString().replaceAll("\\D", "");
        return !pid.isEmpty()
                && pid.length() < 18
                && ProcessHandle.of(Long.parseLong(pid))
                        .filter(ProcessHandle::isAlive)
                        .isPresent();
    }

    public void discard(Leftover leftover) {
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
