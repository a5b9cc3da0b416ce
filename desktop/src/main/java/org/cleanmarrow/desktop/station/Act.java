package org.cleanmarrow.desktop.station;

import java.util.function.Supplier;
import javafx.beans.property.BooleanProperty;
import javafx.beans.property.SimpleBooleanProperty;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.control.Button;
import javafx.scene.control.ContentDisplay;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;

/**
 * One act of a station: a line with its name and the one fact that matters, and its form, which unfolds below the line.
 * Named by the text {@code acts.<id>}.
 */
public final class Act extends VBox {
    private final String id;
    private final Button line = new Button();
    private final Label sign = new Label("▸");
    private final Label fact = new Label();
    private final VBox form;
    private final BooleanProperty open = new SimpleBooleanProperty();
    private Supplier<String> says = () -> "";
    private Runnable fresh = () -> {};
    private boolean startsOpen;
    private boolean clearing;

    /**
     * @param id   short and stable; the line has the id {@code act-<id>}
     * @param form from top to bottom
     */
    public Act(String id, Node... form) {
        this.id = id;
        this.form = new VBox(6, form);
        this.form.getStyleClass().add("act-form");
        this.form.managedProperty().bind(open);
        this.form.visibleProperty().bind(open);
        Label name = new Label(name());
        fact.getStyleClass().add("ink-2");
        fact.setMinWidth(0);
        name.setMinWidth(USE_PREF_SIZE);
        sign.setMinWidth(14);
        HBox row = new HBox(2, sign, name, Widgets.spring(), fact);
        row.setAlignment(Pos.CENTER_LEFT);
        row.prefWidthProperty().bind(line.widthProperty().subtract(28));
        line.setGraphic(row);
        line.setContentDisplay(ContentDisplay.GRAPHIC_ONLY);
        line.setMaxWidth(Double.MAX_VALUE);
        line.getStyleClass().setAll("act-line");
        line.setId("act-" + id);
        line.setOnAction(e -> open.set(!open.get()));
        open.addListener((o, was, is) -> turn(is));
        getStyleClass().add("act");
        getChildren().add(line);
        say();
    }

    /** The fact at the end of the line, asked for at every refreshing; a cheap one. */
    public Act says(Supplier<String> what) {
        says = what;
        return this;
    }

    /** Brings the form up to what there is; done while it is open. */
    public Act refreshing(Runnable how) {
        fresh = how;
        return this;
    }

    /** Open from the start. */
    public Act opened() {
        startsOpen = true;
        open.set(true);
        return this;
    }

    public String id() {
        return id;
    }

    public String name() {
        return Labels.of("acts." + id);
    }

    public BooleanProperty openProperty() {
        return open;
    }

    /** Brings the line, and the form where it is open, up to what there is. */
    public void refresh() {
        if (open.get()) {
            fresh.run();
        }
        String now = says.get();
        if (!now.equals(fact.getText())) {
            fact.setText(now);
            say();
        }
    }

    /** As at the start: nothing said, and folded unless it was open from the start. */
    public void clear() {
        clearing = true;
        open.set(startsOpen);
        clearing = false;
        fact.setText("");
        say();
    }

    /** The form, also while it is folded. */
    public Parent form() {
        return form;
    }

    /** The line that folds and unfolds it. */
    public Button line() {
        return line;
    }

    private void turn(boolean on) {
        if (on && !getChildren().contains(form)) {
            // Only now: laying out and styling all forms at the start would take a second.
            getChildren().add(form);
        }
        sign.setText(on ? "▾" : "▸");
        pseudoClassStateChanged(javafx.css.PseudoClass.getPseudoClass("open"), on);
        say();
        if (on && getScene() != null && !clearing) {
            // The line too: what the form finds out is what it says.
            refresh();
        }
    }

    private void say() {
        line.setAccessibleText(Labels.of(open.get() ? "acts.open" : "acts.closed", name(), fact.getText()));
    }
}
