package org.cleanmarrow.desktop.desk;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import javafx.application.Platform;
import javafx.beans.property.ReadOnlyBooleanProperty;
import javafx.beans.property.ReadOnlyBooleanWrapper;

/**
 * Whether the files that the desk's asset came from are still as they were when they were read, by size and time. Looked at every
 * two seconds, away from the interface thread; one that is gone is being written anew, perhaps, and says nothing.
 */
public final class SourceWatch {
    private static final long EVERY_SECONDS = 2;

    private final WorkQueue queue = new WorkQueue("source", p -> {});
    private final Consumer<Exception> failed;
    private final ReadOnlyBooleanWrapper newer = new ReadOnlyBooleanWrapper();
    /** Not the toolkit's own clock, which would draw the window anew at every beat of it. */
    private final ScheduledExecutorService clock = Executors.newSingleThreadScheduledExecutor(
            Thread.ofPlatform().daemon().name("source-clock").factory());

    private List<Noted> noted = List.of();

    /** A file as it was. */
    record Noted(Path file, Optional<State> state) {}

    private record State(long bytes, FileTime written) {}

    SourceWatch(Consumer<Exception> failed) {
        this.failed = failed;
        clock.scheduleWithFixedDelay(
                () -> Platform.runLater(this::look), EVERY_SECONDS, EVERY_SECONDS, TimeUnit.SECONDS);
    }

    WorkQueue queue() {
        return queue;
    }

    /** How files are now; taken before they are read, so that a change while they are is seen. */
    static List<Noted> note(List<Path> files) {
        return files.stream()
                .map(Path::toAbsolutePath)
                .map(f -> new Noted(f, state(f)))
                .toList();
    }

    private static Optional<State> state(Path file) {
        try {
            BasicFileAttributes a = Files.readAttributes(file, BasicFileAttributes.class);
            return Optional.of(new State(a.size(), a.lastModifiedTime()));
        } catch (IOException | SecurityException e) {
            return Optional.empty();
        }
    }

    /** Watches files in place of those before. */
    void follow(List<Noted> files) {
        noted = files;
        newer.set(false);
    }

    void stop() {
        clock.shutdownNow();
    }

    /** Looks now. */
    public void look() {
        List<Noted> then = noted;
        if (!newer.get() && !then.isEmpty() && !queue.isBusy()) {
            queue.run(
                    w -> then.stream().anyMatch(n -> {
                        Optional<State> now = state(n.file);
                        return now.isPresent() && !now.equals(n.state);
                    }),
                    changed -> {
                        if (noted == then) {
                            newer.set(changed);
                        }
                    },
                    failed::accept);
        }
    }

    /** Whether one of them was written since it was read. */
    public ReadOnlyBooleanProperty newer() {
        return newer.getReadOnlyProperty();
    }

    /** What is there now is known; only what comes after it is newer. */
    public void dismiss() {
        List<Path> files = noted.stream().map(Noted::file).toList();
        queue.run(w -> note(files), this::follow, failed::accept);
    }
}
