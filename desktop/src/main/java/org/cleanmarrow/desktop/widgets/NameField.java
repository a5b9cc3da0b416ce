package org.cleanmarrow.desktop.widgets;

import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.geometry.Bounds;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.StackPane;
import javafx.stage.Popup;

/**
 * A field for a name that exists: a list below it filters as one types, the arrows and Enter or a click take one. What is
 * typed need not be in the list, for patterns and names to come.
 */
public final class NameField extends TextField {
    private static final int SEEN = 8;
    private static final int MOST = 200;
    private static final double ROW = 24;

    private final Supplier<List<String>> names;
    /** Made when something is offered: a popup is a window of its own, and a station has dozens of these fields. */
    private Below below;

    private boolean taking;

    /** @param names what there is, asked for whenever something is typed */
    public NameField(String id, Supplier<List<String>> names) {
        this.names = names;
        setId(id);
        textProperty().addListener((o, a, b) -> offer());
        focusedProperty().addListener((o, was, is) -> {
            if (!is) {
                hide();
            }
        });
        addEventFilter(KeyEvent.KEY_PRESSED, this::key);
    }

    /** The list below the field. */
    private final class Below {
        final ListView<String> list = new ListView<>();
        final StackPane around = new StackPane(list);
        final Popup popup = new Popup();

        Below() {
            list.setFixedCellSize(ROW);
            list.setFocusTraversable(false);
            list.getStyleClass().addAll("mono", "names");
            list.setId(getId() + "-names");
            list.setOnMouseClicked(e -> take());
            // The colours are looked up from the window's class, which a popup is not below.
            around.getStyleClass().add("window");
            popup.getContent().add(around);
            popup.setAutoHide(true);
            popup.setConsumeAutoHidingEvents(false);
        }
    }

    private void hide() {
        if (below != null) {
            below.popup.hide();
        }
    }

    private void offer() {
        String typed = getText() == null ? "" : getText().strip().toLowerCase(Locale.ROOT);
        if (taking || !isFocused() || getScene() == null || getScene().getWindow() == null) {
            return;
        }
        List<String> fitting = names.get().stream()
                .filter(n -> n.toLowerCase(Locale.ROOT).contains(typed))
                .limit(MOST)
                .toList();
        boolean done = fitting.size() == 1 && fitting.getFirst().equals(getText());
        if (fitting.isEmpty() || done || typed.isEmpty()) {
            hide();
            return;
        }
        if (below == null) {
            below = new Below();
        }
        below.list.getItems().setAll(fitting);
        below.list.setPrefSize(Math.max(180, getWidth()), Math.min(SEEN, fitting.size()) * ROW + 4);
        if (!below.popup.isShowing()) {
            boolean dark = !getScene().getRoot().lookupAll(".lamplight").isEmpty();
            below.around.getStyleClass().setAll(dark ? List.of("window", "lamplight") : List.of("window"));
            Bounds at = localToScreen(getBoundsInLocal());
            below.popup.show(this, at.getMinX(), at.getMaxY() + 2);
        }
    }

    private void key(KeyEvent e) {
        if (below == null || !below.popup.isShowing()) {
            return;
        }
        ListView<String> list = below.list;
        int at = list.getSelectionModel().getSelectedIndex();
        if (e.getCode() == KeyCode.DOWN || e.getCode() == KeyCode.UP) {
            int to = Math.clamp(
                    at + (e.getCode() == KeyCode.DOWN ? 1L : -1L),
                    0,
                    list.getItems().size() - 1);
            list.getSelectionModel().clearAndSelect(to);
            list.scrollTo(Math.max(0, to - SEEN + 2));
            e.consume();
        } else if (e.getCode() == KeyCode.ENTER && at >= 0) {
            take();
            e.consume();
        } else if (e.getCode() == KeyCode.ESCAPE) {
            hide();
            e.consume();
        }
    }

    private void take() {
        String name = below.list.getSelectionModel().getSelectedItem();
        if (name != null) {
            taking = true;
            setText(name);
            end();
            taking = false;
            hide();
        }
    }
}
