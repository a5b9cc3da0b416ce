package org.cleanmarrow.desktop.station.caches;

import java.util.BitSet;
import java.util.Optional;
import javafx.beans.property.DoubleProperty;
import javafx.beans.property.SimpleDoubleProperty;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Picker;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.caches.PaintStray;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexAmounts;

/** The brush over how far the vertices of a cloth may stray. */
final class StrayPaint implements Brush.Paint {
    private final DoubleProperty stray = new SimpleDoubleProperty(0);

    /** What strokes go towards: 0 pinned, 1 free. */
    DoubleProperty stray() {
        return stray;
    }

    @Override
    public String advice() {
        return Labels.of("caches.stray.cannot");
    }

    @Override
    public Optional<Brush.Drawn> begin(Desk desk, Picker.Hit hit) {
        Asset asset = desk.now();
        boolean cloth = ClothSection.all(asset).stream()
                .anyMatch(s -> asset.nodes().get(s.node()).mesh() == hit.place().mesh());
        return cloth ? Optional.of(new Stroke(stray.get())) : Optional.empty();
    }

    private record Stroke(double goal) implements Brush.Drawn {
        @Override
        public Mesh live(Mesh mesh, float[] amounts, BitSet touched) {
            return PaintStray.painted(mesh, amounts, goal);
        }

        @Override
        public Step step(String mesh, VertexAmounts amounts) {
            return new PaintStray(mesh, goal, amounts);
        }
    }
}
