package org.cleanmarrow.desktop.station.skin;

import java.util.OptionalDouble;
import javafx.beans.property.DoubleProperty;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
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

/** The brush that changes weights: how wide, how it falls off, and where else; its numbers are in the tray. */
final class BrushSection extends VBox {
    BrushSection(Desk desk, ViewportPane viewport) {
        super(6);
        WeightBrush brush = viewport.weightBrush();
        Button use = Widgets.button(
                "brush-use", "brush.use", () -> viewport.chooser().gesture().set(Chooser.Gesture.PAINT));
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
        HBox wide = new HBox(6, new Label(Labels.of("brush.width")), width);
        wide.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        getChildren()
                .addAll(
                        Widgets.row(use),
                        wide,
                        Widgets.choices("falloff", "brush.falloff", WeightBrush.Falloff.values(), brush.falloff()),
                        mirrored,
                        surface);
    }

    static TextField number(String id, DoubleProperty value, double least, double most) {
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
