package org.cleanmarrow.desktop;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.util.HashSet;
import java.util.Objects;
import java.util.Set;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.scene.control.Label;
import javafx.scene.image.WritableImage;
import javafx.stage.Stage;
import javafx.stage.Window;
import javafx.util.Duration;
import org.cleanmarrow.desktop.desk.WorkThreads;

/** Starts the application as a user does, looks at its window until the pilot stands in it, and closes it. */
public final class SmokeMain {
    private SmokeMain() {}

    /** The application with a watcher beside it. */
    public static final class Watched extends Application {
        private final MarrowApp app = new MarrowApp();
        private int looks;

        @Override
        public void start(Stage stage) {
            app.open(stage, java.util.List.of("demo"));
            Timeline watch = new Timeline(new KeyFrame(Duration.millis(500), e -> look()));
            watch.setCycleCount(120);
            watch.setOnFinished(e -> System.exit(3));
            watch.play();
        }

        private void look() {
            Window window = Window.getWindows().getFirst();
            Label name = (Label) window.getScene().lookup("#asset-name");
            if (name.getText().isEmpty() || ++looks < 6) {
                return;
            }
            WritableImage picture = window.getScene().lookup("#viewport").snapshot(null, null);
            Set<Integer> colours = new HashSet<>();
            for (int y = 0; y < picture.getHeight(); y += 4) {
                for (int x = 0; x < picture.getWidth(); x += 4) {
                    colours.add(picture.getPixelReader().getArgb(x, y));
                }
            }
            // A blank view has a handful of colours, a lit figure has thousands.
            if (colours.size() > 1000) {
                System.out.println("SHOWN " + name.getText());
                System.out.println("COLOURS " + colours.size());
                sayPriorities();
                app.stop();
                Platform.exit();
            }
        }
    }

    private static void sayPriorities() {
        for (File task : Objects.requireNonNull(new File("/proc/self/task").listFiles())) {
            try {
                String stat = Files.readString(task.toPath().resolve("stat"));
                // The name stands in parentheses and may hold any of its own.
                int after = stat.lastIndexOf(')');
                System.out.println("NICE " + stat.substring(after + 2).split(" ")[16] + " "
                        + stat.substring(stat.indexOf('(') + 1, after));
            } catch (IOException e) {
                // It ended meanwhile.
                continue;
            }
        }
    }

    public static void main(String[] arguments) {
        WorkThreads.giveWay();
        Application.launch(Watched.class);
    }
}
