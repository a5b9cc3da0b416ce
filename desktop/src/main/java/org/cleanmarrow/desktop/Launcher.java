package org.cleanmarrow.desktop;

import java.util.Arrays;
import javafx.application.Application;
import org.cleanmarrow.desktop.shots.Shots;

/** Starts the application; apart from it so that JavaFX may lie on the class path. {@code shots DIR} takes its pictures instead. */
public final class Launcher {
    private Launcher() {}

    public static void main(String[] arguments) throws Exception {
        if (arguments.length > 1 && arguments[0].equals("shots")) {
            System.setProperty("glass.platform", "Headless");
            System.setProperty("prism.order", "sw");
            System.setProperty("java.awt.headless", "true");
            Shots.main(Arrays.copyOfRange(arguments, 1, arguments.length));
        } else {
            Application.launch(MarrowApp.class, arguments);
        }
    }
}
