package org.cleanmarrow.desktop.station;

import java.util.OptionalDouble;
import javafx.beans.property.DoubleProperty;
import javafx.css.PseudoClass;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;

/** What a brush is set by, whatever it paints. */
public final class BrushFields {
    private BrushFields() {}

    /**
     * Takes it in hand, how wide it is, how it falls off, whether it keeps to the surface.
     *
     * @param prefix of the controls' ids
     * @param shows  how surfaces are painted as it is taken in hand: what it changes
     */
    public static Node[] form(String prefix, Desk desk, ViewportPane viewport, ShadingMode shows) {
        Brush brush = viewport.brush();
        Button use = Widgets.button(prefix + "-use", "brush.use", () -> {
            viewport.chooser().gesture().set(Chooser.Gesture.PAINT);
            desk.seeing().paint().set(shows);
        });
        TextField width = new TextField("");
        width.setId(prefix + "-width");
        width.setPrefColumnCount(7);
        width.setPromptText(Labels.of("brush.width.pixels"));
        width.setAccessibleText(Labels.of("brush.width"));
        width.textProperty().addListener((o, a, b) -> {
            OptionalDouble metres = desk.isOpen()
                    ? Lengths.metres(b, desk.now().conventions().metresPerUnit())
                    : OptionalDouble.empty();
            brush.metres().set(metres.orElse(0) > 0 ? metres.getAsDouble() : 0);
        });
        HBox wide = new HBox(6, new Label(Labels.of("brush.width")), width);
        wide.setAlignment(Pos.CENTER_LEFT);
        CheckBox surface = new CheckBox(Labels.of("brush.surface"));
        surface.setId(prefix + "-surface");
        surface.selectedProperty().bindBidirectional(brush.onSurface());
        return new Node[] {
            Widgets.row(use),
            wide,
            Widgets.choices(prefix + "-falloff", "brush.falloff", Brush.Falloff.values(), brush.falloff()),
            surface
        };
    }

    /** What stands before a number, never cut. */
    public static Label label(String key) {
        Label label = new Label(Labels.of(key));
        label.setMinWidth(Region.USE_PREF_SIZE);
        return label;
    }

    /** A number of it, marked where it is out of its range and then not taken. */
    public static TextField number(String id, String called, DoubleProperty value, double least, double most) {
        TextField field = new TextField(String.valueOf(value.get()));
        field.setId(id);
        field.setPrefWidth(52);
        field.setMinWidth(44);
        field.setAccessibleText(Labels.of(called));
        field.textProperty().addListener((o, a, b) -> {
            double number = Lengths.number(b).orElse(Double.NaN);
            boolean fits = number >= least && number <= most;
            field.pseudoClassStateChanged(PseudoClass.getPseudoClass("wrong"), !fits);
            if (fits) {
                value.set(number);
            }
        });
        return field;
    }
}
