package org.cleanmarrow.bench;

import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import javafx.animation.AnimationTimer;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.scene.control.Label;
import javafx.stage.Stage;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.DeskFiles;
import org.cleanmarrow.desktop.desk.WorkThreads;
import org.cleanmarrow.desktop.window.MainWindow;

/** Starts a window in a process of its own, says after how many milliseconds it could be used, and ends. */
public final class StartMain {
    private StartMain() {}

    /** @param arguments {@code empty}, {@code window} or {@code demo} */
    public static void main(String[] arguments) throws Exception {
        WorkThreads.giveWay();
        String what = arguments[0];
        if (what.equals("demo")) {
            DeskFiles.makeAhead(Demo.pilot());
        }
        var home = Files.createTempDirectory("marrow-start");
        Platform.startup(() -> {
            Stage stage = new Stage();
            if (what.equals("empty")) {
                stage.setScene(new Scene(new Label("."), 1280, 800));
                stage.show();
                once(() -> true);
                return;
            }
            Desk desk = new Desk(new AppFolder(home));
            MainWindow window = new MainWindow(desk);
            stage.setScene(window.scene(1280, 800));
            stage.show();
            if (what.equals("demo")) {
                desk.files().openDemo();
                once(window.viewport()::showsAsset);
            } else {
                once(() -> true);
            }
        });
    }

    /** Ends on the second beat of the toolkit's clock at which something holds: the first has been drawn then. */
    private static void once(java.util.function.BooleanSupplier holds) {
        new AnimationTimer() {
            private int beats;

            @Override
            public void handle(long now) {
                beats = holds.getAsBoolean() ? beats + 1 : 0;
                if (beats == 2) {
                    long since = ManagementFactory.getRuntimeMXBean().getStartTime();
                    System.out.println("usable " + (System.currentTimeMillis() - since));
                    System.out.flush();
                    if (Boolean.getBoolean("marrow.train")) {
                        System.exit(0);
                    }
                    Runtime.getRuntime().halt(0);
                }
            }
        }.start();
    }
}
