package org.cleanmarrow.desktop.station;

import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.work.Step;

/** Buttons that add a step each, with a line below that says what the one pointed at, or focused, would do. */
final class StepRow extends VBox {
    private final Desk desk;
    private final FlowPane row = Widgets.row();
    private final Label line = Widgets.sentence("");
    private Button asked;

    /** Makes a step from what was typed. */
    interface Maker {
        /** @throws Unclear where something typed makes no sense, in words */
        Step make() throws Unclear;
    }

    /** What was typed makes no sense; says why. */
    static final class Unclear extends Exception {
        private static final long serialVersionUID = 1;

        Unclear(String key, Object... facts) {
            super(Labels.of(key, facts));
        }
    }

    /** @param id of the line that says what would happen */
    StepRow(Desk desk, String id) {
        super(4);
        this.desk = desk;
        line.setId(id);
        line.getStyleClass().add("ink-2");
        line.setManaged(false);
        getChildren().addAll(row, line);
    }

    /** Adds the main act. */
    StepRow main(String id, String key, Maker maker) {
        act(id, key, maker).getStyleClass().add("main");
        return this;
    }

    /** Adds an act. */
    StepRow also(String id, String key, Maker maker) {
        act(id, key, maker);
        return this;
    }

    private Button act(String id, String key, Maker maker) {
        Button button = Widgets.button(id, key, () -> {
            try {
                desk.apply(maker.make());
            } catch (Unclear e) {
                say(e.getMessage());
            }
        });
        button.setOnMouseEntered(e -> ask(button, maker));
        button.focusedProperty().addListener((o, was, is) -> {
            if (is) {
                ask(button, maker);
            }
        });
        row.getChildren().add(button);
        return button;
    }

    private void ask(Button button, Maker maker) {
        asked = button;
        if (button.isDisabled() || desk.looking() != desk.history().done().size()) {
            return;
        }
        try {
            Step step = maker.make();
            say(Labels.of("act.preview.wait"));
            desk.preview(step, done -> {
                if (asked == button) {
                    say(
                            done.outcome().isEmpty()
                                    ? desk.outcomes().sentence(done)
                                    : Labels.of("act.preview", desk.outcomes().sentence(done)));
                }
            });
        } catch (Unclear e) {
            say(e.getMessage());
        }
    }

    private void say(String text) {
        line.setManaged(true);
        line.setText(text);
    }
}
