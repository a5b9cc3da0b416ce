package org.cleanmarrow.desktop.station.skin;

import java.util.Locale;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.viewport.WeightBrush;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.weights.Stroke;

/** What the brush for weights does, how strongly, and towards which weight: the numbers one changes between strokes. */
final class BrushTray extends HBox {
    BrushTray(ViewportPane viewport) {
        super(6);
        setAlignment(Pos.CENTER_LEFT);
        WeightBrush brush = viewport.weightBrush();
        ComboBox<Stroke.Mode> mode = new ComboBox<>();
        mode.setId("brush-mode");
        mode.getItems().setAll(Stroke.Mode.values());
        mode.setAccessibleText(Labels.of("brush.mode"));
        mode.setConverter(Widgets.shown(m -> Labels.of("brush.mode." + m.name().toLowerCase(Locale.ROOT))));
        mode.valueProperty().bindBidirectional(brush.mode());
        mode.setMinWidth(70);
        TextField strength = BrushSection.number("brush-strength", brush.strength(), 0.001, 1);
        TextField goal = BrushSection.number("brush-goal", brush.goal(), 0, 1);
        goal.disableProperty().bind(brush.mode().isNotEqualTo(Stroke.Mode.SET));
        for (TextField field : new TextField[] {strength, goal}) {
            field.setPrefWidth(52);
            field.setMinWidth(44);
        }
        getChildren()
                .addAll(
                        mode,
                        new Label(Labels.of("brush.strength")),
                        strength,
                        new Label(Labels.of("brush.goal")),
                        goal);
    }
}
