package org.cleanmarrow.desktop;

import javafx.application.Application;

/** Starts the application; apart from it so that JavaFX may lie on the class path. */
public final class Launcher {
    private Launcher() {}

    public static void main(String[] arguments) {
        Application.launch(MarrowApp.class, arguments);
    }
}
