package org.cleanmarrow.desktop;

import java.util.Arrays;
import java.util.List;
import javafx.application.Application;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.DeskFiles;
import org.cleanmarrow.desktop.desk.WorkThreads;
import org.cleanmarrow.desktop.shots.Shots;

/** Starts the application; apart from it so that JavaFX may lie on the class path. {@code shots DIR} takes its pictures instead. */
public final class Launcher {
    private Launcher() {}

    public static void main(String[] arguments) throws Exception {
        WorkThreads.giveWay();
        if (arguments.length > 1 && arguments[0].equals("shots")) {
            System.setProperty("glass.platform", "Headless");
            System.setProperty("prism.order", "sw");
            System.setProperty("java.awt.headless", "true");
            Shots.main(Arrays.copyOfRange(arguments, 1, arguments.length));
        } else {
            MarrowApp.demo(List.of(arguments)).flatMap(Demo::named).ifPresent(DeskFiles::makeAhead);
            Application.launch(MarrowApp.class, arguments);
        }
    }
}
