package org.cleanmarrow.desktop;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import javafx.application.Application;
import javafx.scene.Scene;
import javafx.scene.image.Image;
import javafx.stage.Stage;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.AppLog;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.formats.file.MappedRoom;

/** The application: one window over one desk. Arguments: {@code demo [NAME]}, {@code [open] FILE…}, or none. */
public final class MarrowApp extends Application {
    private static final int[] ICONS = {32, 64, 256};

    private Desk desk;
    private MainWindow window;

    @Override
    public void start(Stage stage) {
        AppLog.start(AppFolder.log());
        MappedRoom.use();
        Thread.setDefaultUncaughtExceptionHandler((thread, e) -> AppLog.failed("thread " + thread.getName(), e));
        open(stage, getParameters().getRaw());
    }

    /** Puts the window on a stage and does what the arguments ask. */
    void open(Stage stage, List<String> arguments) {
        desk = new Desk(AppFolder.standard());
        window = new MainWindow(desk);
        Scene scene = window.scene(1280, 800);
        stage.setTitle(Labels.of("app.title"));
        for (int size : ICONS) {
            stage.getIcons()
                    .add(new Image(MarrowApp.class
                            .getResource("icon/icon-" + size + ".png")
                            .toExternalForm()));
        }
        stage.setScene(scene);
        stage.setMinWidth(960);
        stage.setMinHeight(620);
        stage.show();
        // Who double-clicks a file says nothing but its name.
        List<String> files = !arguments.isEmpty() && arguments.getFirst().equals("open")
                ? arguments.subList(1, arguments.size())
                : arguments;
        Optional<String> demo = demo(arguments);
        if (demo.isPresent()) {
            desk.files().openDemo(demo.get());
        } else if (!files.isEmpty()) {
            desk.files().open(files.stream().map(Path::of).toList());
        }
    }

    /** Name of the demo asset that the arguments ask for. */
    static Optional<String> demo(List<String> arguments) {
        return arguments.isEmpty() || !arguments.getFirst().equals("demo")
                ? Optional.empty()
                : Optional.of(
                        arguments.size() > 1 ? arguments.get(1) : Demo.pilot().name());
    }

    @Override
    public void stop() {
        window.close();
        desk.close();
    }
}
