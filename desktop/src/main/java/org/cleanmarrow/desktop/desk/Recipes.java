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
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.ReadFailed;

/** What deliveries consist of, kept for all work under names of one's own, a file each. */
public final class Recipes {
    private static final String ENDING = ".json";

    private final Path folder;
    private final WorkQueue queue = new WorkQueue("recipes", p -> {});
    private final Consumer<Exception> failed;
    private final ObservableList<Kept> all = FXCollections.observableArrayList();

    /** A recipe and what it is called. */
    public record Kept(String name, Recipe recipe) {}

    Recipes(Path folder, Consumer<Exception> failed) {
        this.folder = folder;
        this.failed = failed;
        queue.run(w -> kept(), all::addAll, failed);
    }

    WorkQueue queue() {
        return queue;
    }

    /** By their names. */
    public ObservableList<Kept> all() {
        return all;
    }

    private List<Kept> kept() throws IOException {
        List<Kept> out = new ArrayList<>();
        if (Files.isDirectory(folder)) {
            try (Stream<Path> files = Files.list(folder)) {
                for (Path file : files.filter(f -> f.toString().endsWith(ENDING))
                        .sorted()
                        .toList()) {
                    String name = file.getFileName().toString();
                    try {
                        out.add(new Kept(name.substring(0, name.length() - ENDING.length()), Recipe.read(file)));
                    } catch (ReadFailed e) {
                        // One that was spoiled from outside does not keep the others away.
                        Platform.runLater(() -> failed.accept(e));
                    }
                }
            }
        }
        return out;
    }

    /** Keeps a recipe in place of the one of its name. */
    public void keep(String name, Recipe recipe) {
        String plain = plain(name);
        all.removeIf(k -> k.name().equals(plain));
        all.add(new Kept(plain, recipe));
        all.sort((a, b) -> a.name().compareTo(b.name()));
        queue.run(
                w -> {
                    recipe.write(folder.resolve(plain + ENDING));
                    return plain;
                },
                f -> {},
                failed);
    }

    public void forget(String name) {
        String plain = plain(name);
        all.removeIf(k -> k.name().equals(plain));
        queue.run(w -> Files.deleteIfExists(folder.resolve(plain + ENDING)), f -> {}, failed);
    }

    /** A name as a file may have it. */
    private static String plain(String name) {
        return name.strip().replaceAll("[^\\p{L}\\p{N} _-]", "_");
    }
}
