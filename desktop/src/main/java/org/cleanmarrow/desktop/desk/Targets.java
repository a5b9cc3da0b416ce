package org.cleanmarrow.desktop.desk;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Stream;
import javafx.application.Platform;
import javafx.collections.FXCollections;
import javafx.collections.ObservableList;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.TargetFiles;
import org.cleanmarrow.formats.file.ReadFailed;

/** What receiving sides expect: the usual conventions, and targets with budgets of one's own, kept as a file each. */
public final class Targets {
    private static final List<String> USUAL =
            List.of("z-up-cm-lh", "y-up-m-rh", "y-up-m-lh", "z-up-m-rh", "z-up-cm-rh", "z-up-m-lh", "y-up-cm-rh");

    private final Path folder;
    private final WorkQueue queue = new WorkQueue("targets", p -> {});
    private final Consumer<Exception> failed;
    private final ObservableList<Target> all = FXCollections.observableArrayList();

    Targets(Path folder, Consumer<Exception> failed) {
        this.folder = folder;
        this.failed = failed;
        USUAL.forEach(t -> all.add(Target.named(t).orElseThrow()));
        queue.run(w -> kept(), all::addAll, failed);
    }

    WorkQueue queue() {
        return queue;
    }

    /** The usual ones first, then those that were kept. */
    public ObservableList<Target> all() {
        return all;
    }

    private List<Target> kept() throws IOException {
        List<Target> out = new ArrayList<>();
        if (Files.isDirectory(folder)) {
            try (Stream<Path> files = Files.list(folder)) {
                for (Path file : files.filter(f -> f.toString().endsWith(".json"))
                        .sorted()
                        .toList()) {
                    read(file, out);
                }
            }
        }
        return out;
    }

    /** A kept one that was spoiled from outside does not keep the others away. */
    private void read(Path file, List<Target> out) throws IOException {
        try {
            out.add(TargetFiles.read(file));
        } catch (ReadFailed e) {
            Platform.runLater(() -> failed.accept(e));
        }
    }

    /** Reads a target from a file of the user's; one that is none is said. */
    public void open(Path file, Consumer<Target> then) {
        queue.run(
                w -> TargetFiles.read(file),
                target -> {
                    put(target);
                    then.accept(target);
                },
                failed);
    }

    /** Keeps a target; it takes the place of the kept one of its name. */
    public void keep(Target target) {
        put(target);
        Path file = folder.resolve(target.name().replaceAll("[^\\p{L}\\p{N}_-]", "_") + ".json");
        queue.run(
                w -> {
                    TargetFiles.write(file, target);
                    return file;
                },
                f -> {},
                failed);
    }

    private void put(Target target) {
        for (int i = USUAL.size(); i < all.size(); i++) {
            if (all.get(i).name().equals(target.name())) {
                all.set(i, target);
                return;
            }
        }
        all.add(target);
    }
}
