package org.cleanmarrow.desktop.station.scale;

import java.util.OptionalDouble;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.PartChoice;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.steps.scale.DropToGround;
import org.cleanmarrow.steps.scale.MirrorPart;
import org.cleanmarrow.steps.scale.SetPivot;
import org.cleanmarrow.steps.scale.TurnAndFold;
import org.joml.Vector3d;

/** Where things stand: turned, on the ground, about which pivot, and the other of a pair. */
final class PlaceSection {
    private final Desk desk;
    private final ViewportPane viewport;
    private final PartChoice part;
    private final PartChoice pivotPart;
    private final PartChoice mirrorPart;
    private final VBox turning;
    private final VBox pivots;
    private final VBox mirroring;
    private final ObjectProperty<TurnAndFold.About> about = new SimpleObjectProperty<>(TurnAndFold.About.X);
    private final TextField degrees = new TextField("90");
    private final CheckBox centre = new CheckBox(Labels.of("place.centre"));
    private final ComboBox<String> side = new ComboBox<>();

    PlaceSection(Desk desk, ViewportPane viewport) {
        this.desk = desk;
        this.viewport = viewport;
        part = new PartChoice(desk, "place-part", true);
        // One choice of a part, shown in three acts.
        pivotPart = new PartChoice(desk, "pivot-part", true);
        mirrorPart = new PartChoice(desk, "mirror-which", true);
        pivotPart.valueProperty().bindBidirectional(part.valueProperty());
        mirrorPart.valueProperty().bindBidirectional(part.valueProperty());
        degrees.setId("turn-degrees");
        degrees.setPrefColumnCount(4);
        degrees.setAccessibleText(Labels.of("place.degrees"));
        centre.setId("ground-centre");
        side.setId("pivot-side");
        side.setEditable(true);
        side.setAccessibleText(Labels.of("place.side"));
        side.getItems()
                .setAll(
                        "bottom",
                        "top",
                        "left",
                        "right",
                        "front",
                        "back",
                        "middle",
                        "bottom left",
                        "bottom right",
                        "bottom front",
                        "bottom back");
        side.setValue("bottom");
        HBox turn = new HBox(
                6, Widgets.choices("turn", "place.about", TurnAndFold.About.values(), about), degrees, new Label("°"));
        turn.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        turning = new VBox(
                6,
                Widgets.labelled("part.choice", part),
                turn,
                centre,
                new StepRow(desk, "turn-preview")
                        .also("drop-ground", "place.ground", () -> new DropToGround(centre.isSelected(), part.part()))
                        .also("turn-fold", "place.turn", this::turn));
        pivots = new VBox(
                6,
                Widgets.labelled("part.choice", pivotPart),
                Widgets.labelled("place.side.short", side),
                new StepRow(desk, "pivot-preview")
                        .also("pivot-box", "place.pivot.box", () -> pivot(SetPivot.To.BOX))
                        .also("pivot-origin", "place.pivot.origin", () -> pivot(SetPivot.To.ORIGIN))
                        .also("pivot-point", "place.pivot.point", this::picked));
        mirroring = new VBox(
                6,
                Widgets.labelled("part.choice", mirrorPart),
                new StepRow(desk, "mirror-preview")
                        .also("mirror-part", "place.mirror", () -> new MirrorPart(part.one(), MirrorPart.Across.SIDE)));
    }

    VBox turning() {
        return turning;
    }

    VBox pivots() {
        return pivots;
    }

    VBox mirroring() {
        return mirroring;
    }

    void refresh() {
        part.refresh();
        pivotPart.refresh();
        mirrorPart.refresh();
    }

    private TurnAndFold turn() throws StepRow.Unclear {
        OptionalDouble angle = Lengths.number(degrees.getText());
        if (angle.isEmpty()) {
            throw new StepRow.Unclear("place.degrees.bad", degrees.getText());
        }
        return new TurnAndFold(about.get(), angle.getAsDouble(), part.part());
    }

    private SetPivot pivot(SetPivot.To to) throws StepRow.Unclear {
        return new SetPivot(part.one(), to, side.getEditor().getText().strip(), 0, 0, 0);
    }

    /** The middle of the chosen vertices, in the asset's own numbers. */
    private SetPivot picked() throws StepRow.Unclear {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("place.pivot.choose");
        }
        Vector3d middle = viewport.middleOfChoice();
        Conversion back = Conversion.between(Conventions.GLTF, desk.now().conventions());
        Vector3d at = back.matrix().transformPosition(middle);
        return new SetPivot(part.one(), SetPivot.To.POINT, "bottom", at.x, at.y, at.z);
    }
}
