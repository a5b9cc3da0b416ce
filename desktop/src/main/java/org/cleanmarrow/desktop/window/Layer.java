package org.cleanmarrow.desktop.window;

import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.layout.StackPane;

/** What lies over the desk for a while: the finder's list, settings, a step's parameters, the tour. Never modal. */
final class Layer extends StackPane {
    private Runnable find = () -> {};
    private Runnable settings = () -> {};
    private Runnable tour = () -> {};
    private Runnable target = () -> {};
    private Node shown;

    Layer() {
        setPickOnBounds(false);
    }

    /** What opens each of its sheets. */
    void connect(Runnable toFind, Runnable toSettings, Runnable toTour, Runnable toTarget) {
        target = toTarget;
        find = toFind;
        settings = toSettings;
        tour = toTour;
    }

    void find() {
        find.run();
    }

    void settings() {
        settings.run();
    }

    void tour() {
        tour.run();
    }

    void target() {
        target.run();
    }

    /** Shows a sheet in place of the one before; the tour's card stays beside it. */
    void show(Node sheet, Pos at, Insets margin) {
        hide();
        shown = sheet;
        setAlignment(sheet, at);
        setMargin(sheet, margin);
        getChildren().add(sheet);
    }

    void hide() {
        getChildren().remove(shown);
        shown = null;
    }

    boolean isShowing(Node sheet) {
        return shown == sheet;
    }

    boolean isShowing() {
        return shown != null;
    }
}
