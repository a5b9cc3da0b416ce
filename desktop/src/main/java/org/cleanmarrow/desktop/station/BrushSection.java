package org.cleanmarrow.desktop.station;

import java.util.OptionalDouble;
import javafx.beans.property.DoubleProperty;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.viewport.WeightBrush;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.weights.Stroke;

/** The brush that changes weights: what it does, how strongly, how wide, and where else. */
final class BrushSection extends VBox {
    BrushSection(Desk desk, ViewportPane viewport) {
        super(6);
        WeightBrush brush = viewport.weightBrush();
        ComboBox<Stroke.Mode> mode = new ComboBox<>();
        mode.setId("brush-mode");
        mode.getItems().setAll(Stroke.Mode.values());
        mode.setAccessibleText(Labels.of("brush.mode"));
        mode.setConverter(Widgets.shown(m -> Labels.of("brush.mode." + m.name().toLowerCase(java.util.Locale.ROOT))));
        mode.valueProperty().bindBidirectional(brush.mode());
        // Whoever says what the brush is to do means to use it.
        mode.setOnAction(e -> viewport.chooser().gesture().set(Chooser.Gesture.PAINT));
        TextField strength = number("brush-strength", brush.strength(), 0.001, 1);
        TextField goal = number("brush-goal", brush.goal(), 0, 1);
        goal.disableProperty().bind(brush.mode().isNotEqualTo(Stroke.Mode.SET));
        TextField width = new TextField("");
        width.setId("brush-width");
        width.setPrefColumnCount(5);
        width.setPromptText(Labels.of("brush.width.pixels"));
        width.setAccessibleText(Labels.of("brush.width"));
        width.textProperty().addListener((o, a, b) -> {
            OptionalDouble metres = desk.isOpen()
                    ? Lengths.metres(b, desk.now().conventions().metresPerUnit())
                    : OptionalDouble.empty();
            brush.metres().set(metres.orElse(0) > 0 ? metres.getAsDouble() : 0);
        });
        CheckBox mirrored = new CheckBox(Labels.of("brush.mirrored"));
        mirrored.setId("brush-mirrored");
        mirrored.selectedProperty().bindBidirectional(brush.mirrored());
        CheckBox surface = new CheckBox(Labels.of("brush.surface"));
        surface.setId("brush-surface");
        surface.selectedProperty().bindBidirectional(brush.onSurface());
        HBox numbers =
                new HBox(6, new Label(Labels.of("brush.strength")), strength, new Label(Labels.of("brush.goal")), goal);
        numbers.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        HBox wide = new HBox(6, new Label(Labels.of("brush.width")), width);
        wide.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        getChildren()
                .addAll(
                        mode,
                        numbers,
                        wide,
                        Widgets.choices("falloff", "brush.falloff", WeightBrush.Falloff.values(), brush.falloff()),
                        mirrored,
                        surface);
    }

    private static TextField number(String id, DoubleProperty value, double least, double most) {
        TextField field = new TextField(String.valueOf(value.get()));
        field.setId(id);
        field.setPrefColumnCount(3);
        field.setAccessibleText(Labels.of(id.replace('-', '.')));
        field.textProperty().addListener((o, a, b) -> {
            double number = Lengths.number(b).orElse(Double.NaN);
            boolean fits = number >= least && number <= most;
            field.pseudoClassStateChanged(javafx.css.PseudoClass.getPseudoClass("wrong"), !fits);
            if (fits) {
                value.set(number);
            }
        });
        return field;
    }
}
