package org.cleanmarrow.desktop.station;

import java.util.Optional;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.work.Step;

/**
 * Buttons that add a step each, at the lower right corner of a form, and above them two lines of room for what the one that
 * the pointer or the keyboard rests on would do.
 */
public final class StepRow extends VBox {
    private final Desk desk;
    private final FlowPane row = Widgets.row();
    private final Label line;

    /** Makes a step from what was typed. */
    public interface Maker {
        /** @throws Unclear where something typed makes no sense, in words */
        Step make() throws Unclear;
    }

    /** What was typed makes no sense; says why. */
    public static final class Unclear extends Exception {
        private static final long serialVersionUID = 1;

        public Unclear(String key, Object... facts) {
            super(Labels.of(key, facts));
        }
    }

    /** @param id of the line that says what would happen */
    public StepRow(Desk desk, String id) {
        super(2);
        this.desk = desk;
        line = Widgets.twoLines(id);
        row.setAlignment(Pos.CENTER_RIGHT);
        getChildren().addAll(line, row);
    }

    /** Adds the main act. */
    public StepRow main(String id, String key, Maker maker) {
        act(id, key, maker).getStyleClass().add("main");
        return this;
    }

    /** Adds an act. */
    public StepRow also(String id, String key, Maker maker) {
        act(id, key, maker);
        return this;
    }

    private Button act(String id, String key, Maker maker) {
        Button button = Widgets.button(id, key, () -> made(maker).ifPresent(desk::apply));
        desk.foreteller().on(button, () -> made(maker), line::setText);
        row.getChildren().add(button);
        return button;
    }

    private Optional<Step> made(Maker maker) {
        try {
            return Optional.of(maker.make());
        } catch (Unclear e) {
            line.setText(e.getMessage());
            return Optional.empty();
        }
    }
}
