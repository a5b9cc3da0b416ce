package org.cleanmarrow.desktop.station.skeleton;

import java.util.Optional;
import java.util.OptionalDouble;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.TrialSlider;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.steps.skeleton.PivotToHinge;
import org.cleanmarrow.steps.skeleton.SetSwing;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.VertexSet;

/** Hinges: the pivot found in a barrel, the swing tried between its limits, the limits kept. */
final class HingeSection extends VBox {
    private final Desk desk;
    private final ObjectProperty<SetSwing.Axis> axis = new SimpleObjectProperty<>(SetSwing.Axis.X);
    private final TextField from = angle("swing-from", "0");
    private final TextField to = angle("swing-to", "60");
    private String limitsOf = "";

    HingeSection(Desk desk) {
        super(6);
        this.desk = desk;
        HBox limits = new HBox(6, from, new Label("…"), to, new Label("°"));
        limits.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        getChildren()
                .addAll(
                        new StepRow(desk, "hinge-preview").also("pivot-to-hinge", "hinge.pivot", this::hinge),
                        Widgets.choices("swing", "swing.axis", SetSwing.Axis.values(), axis),
                        limits,
                        Widgets.row(
                                Widgets.button("swing-try", "swing.try", this::swing),
                                Widgets.button(
                                        "swing-stop",
                                        "swing.stop",
                                        () -> desk.playback().hold(null))),
                        new TrialSlider(desk, "swing-at"),
                        new StepRow(desk, "swing-preview").also("swing-keep", "swing.keep", this::kept));
    }

    private static TextField angle(String id, String value) {
        TextField field = new TextField(value);
        field.setId(id);
        field.setPrefColumnCount(5);
        field.setAccessibleText(Labels.of(id.replace('-', '.')));
        return field;
    }

    /** Shows the limits that the chosen joint says. */
    void refresh() {
        String joint = desk.selection().joint().get();
        if (!joint.equals(limitsOf) && desk.selection().jointNode() >= 0) {
            limitsOf = joint;
            Optional<Swing> said =
                    Swing.of(desk.now().nodes().get(desk.selection().jointNode()));
            said.ifPresent(s -> {
                axis.set(SetSwing.Axis.values()[s.axis()]);
                from.setText(plain(s.from()));
                to.setText(plain(s.to()));
            });
        }
    }

    private static String plain(double number) {
        return number == Math.rint(number) ? Long.toString((long) number) : Double.toString(number);
    }

    private int node() throws StepRow.Unclear {
        if (desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("skeleton.choose");
        }
        return desk.selection().jointNode();
    }

    private double number(TextField field) throws StepRow.Unclear {
        OptionalDouble value = Lengths.number(field.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("place.degrees.bad", field.getText());
        }
        return value.getAsDouble();
    }

    private void swing() {
        try {
            desk.playback().hold(TrialPoses.sweep(desk.now(), node(), axis.get().ordinal(), number(from), number(to)));
        } catch (StepRow.Unclear e) {
            desk.jobs().message().set(e.getMessage());
        }
    }

    private SetSwing kept() throws StepRow.Unclear {
        return new SetSwing(desk.now().nodeRef(node()), axis.get(), number(from), number(to));
    }

    private PivotToHinge hinge() throws StepRow.Unclear {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("hinge.choose");
        }
        var mesh = desk.now().meshes().get(chosen.mesh());
        int place = -1;
        for (int n = 0; n < desk.now().nodes().size(); n++) {
            place = place < 0 && desk.now().nodes().get(n).mesh() == chosen.mesh() ? n : place;
        }
        int node = desk.selection().jointNode() >= 0 ? desk.selection().jointNode() : place;
        return new PivotToHinge(
                desk.now().nodeRef(node), desk.now().meshRef(chosen.mesh()), VertexSet.chosen(mesh, chosen.vertices()));
    }
}
