package org.cleanmarrow.desktop.station.skin;

import java.util.Locale;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import org.cleanmarrow.desktop.station.BrushFields;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.weights.Stroke;

/** What the brush for weights does, how strongly, and towards which weight: the numbers one changes between strokes. */
final class BrushTray extends HBox {
    BrushTray(ViewportPane viewport, WeightPaint paint) {
        super(6);
        setAlignment(Pos.CENTER_LEFT);
        ComboBox<Stroke.Mode> mode = new ComboBox<>();
        mode.setId("brush-mode");
        mode.getItems().setAll(Stroke.Mode.values());
        mode.setAccessibleText(Labels.of("brush.mode"));
        mode.setConverter(Widgets.shown(m -> Labels.of("brush.mode." + m.name().toLowerCase(Locale.ROOT))));
        mode.valueProperty().bindBidirectional(paint.mode());
        mode.setMinWidth(70);
        TextField strength = BrushFields.number(
                "brush-strength", "brush.strength", viewport.brush().strength(), 0.001, 1);
        TextField goal = BrushFields.number("brush-goal", "brush.goal", paint.goal(), 0, 1);
        goal.disableProperty().bind(paint.mode().isNotEqualTo(Stroke.Mode.SET));
        getChildren()
                .addAll(mode, BrushFields.label("brush.strength"), strength, BrushFields.label("brush.goal"), goal);
    }
}
