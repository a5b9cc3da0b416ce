package org.cleanmarrow.desktop.station.caches;

import javafx.geometry.Pos;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import org.cleanmarrow.desktop.station.BrushFields;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.ViewportPane;

/** How strongly the brush for strays goes, and towards what: the numbers one changes between strokes. */
final class StrayTray extends HBox {
    StrayTray(ViewportPane viewport, StrayPaint paint) {
        super(6);
        setAlignment(Pos.CENTER_LEFT);
        Brush brush = viewport.brush();
        TextField strength = BrushFields.number("stray-strength", "brush.strength", brush.strength(), 0.001, 1);
        TextField goal = BrushFields.number("stray-goal", "caches.stray", paint.stray(), 0, 1);
        getChildren()
                .addAll(BrushFields.label("brush.strength"), strength, BrushFields.label("caches.stray.short"), goal);
    }
}
