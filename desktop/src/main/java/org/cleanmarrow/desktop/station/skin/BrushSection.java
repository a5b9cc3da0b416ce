package org.cleanmarrow.desktop.station.skin;

import javafx.scene.control.CheckBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.BrushFields;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;

/** The brush that changes weights: how wide, how it falls off, and where else; its numbers are in the tray. */
final class BrushSection extends VBox {
    BrushSection(Desk desk, ViewportPane viewport, WeightPaint paint) {
        super(6);
        CheckBox mirrored = new CheckBox(Labels.of("brush.mirrored"));
        mirrored.setId("brush-mirrored");
        mirrored.selectedProperty().bindBidirectional(paint.mirrored());
        getChildren().addAll(BrushFields.form("brush", desk, viewport, ShadingMode.INFLUENCE));
        getChildren().add(mirrored);
    }
}
