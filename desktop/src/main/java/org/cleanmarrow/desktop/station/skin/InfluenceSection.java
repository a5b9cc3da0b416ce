package org.cleanmarrow.desktop.station.skin;

import java.util.List;
import java.util.OptionalDouble;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.steps.skin.AdjustWeight;
import org.cleanmarrow.steps.skin.AverageAcross;
import org.cleanmarrow.steps.skin.CopyWeights;
import org.cleanmarrow.steps.skin.SharpenWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.work.VertexSet;

/** The weights of the selection as a table; weights added, scaled, smoothed and copied, and joints locked meanwhile. */
final class InfluenceSection extends VBox {
    private final Desk desk;
    private final WeightTable table;
    private final CheckBox lock = new CheckBox(Labels.of("skin.lock"));
    private final Label locked = Widgets.sentence("");
    private final TextField amount = new TextField("0.10");
    private final VBox even;
    private final VBox copying;
    private VertexSet copied;
    private String copiedFrom = "";

    InfluenceSection(Desk desk) {
        super(6);
        this.desk = desk;
        table = new WeightTable(desk);
        lock.setId("lock-joint");
        lock.setOnAction(e -> {
            desk.selection().toggleLock();
            refresh();
        });
        locked.setId("locked-joints");
        locked.getStyleClass().add("ink-2");
        amount.setId("amount");
        amount.setPrefColumnCount(4);
        amount.setAccessibleText(Labels.of("skin.amount"));
        StepRow adjust = new StepRow(desk, "adjust-preview")
                .also("add-weight", "skin.add", () -> adjusted(AdjustWeight.How.ADD, 1))
                .also("less-weight", "skin.less", () -> adjusted(AdjustWeight.How.ADD, -1))
                .also("scale-weight", "skin.scale", () -> adjusted(AdjustWeight.How.SCALE, 1));
        getChildren().addAll(table, lock, locked, Widgets.labelled("skin.amount.short", amount), adjust);
        even = new VBox(
                6,
                new StepRow(desk, "even-preview")
                        .also("smooth", "skin.smooth", () -> new SmoothWeights(mesh(), chosen(), 0.5, 4, held()))
                        .also("sharpen", "skin.sharpen", () -> sharper(SharpenWeights.How.MORE))
                        .also("harden", "skin.harden", () -> sharper(SharpenWeights.How.HARD))
                        .also("one-joint", "skin.one", () -> sharper(SharpenWeights.How.ONE))
                        .also("even-along", "skin.along", () -> new AverageAcross(mesh(), chosen(), 0))
                        .also("average", "skin.average", () -> new CopyWeights(mesh(), chosen(), chosen(), 8)));
        copying = new VBox(
                6,
                Widgets.row(Widgets.button("copy-from", "skin.copy", this::remember)),
                new StepRow(desk, "copy-preview").also("copy-to", "skin.paste", this::pasted));
    }

    /** Weights copied and pasted. */
    VBox copying() {
        return copying;
    }

    /** What was copied, in a word. */
    String copied() {
        return copied == null ? "" : copiedFrom;
    }

    /** Weights evened out and sharpened. */
    VBox even() {
        return even;
    }

    /** Brings table and locks up to what there is. */
    void refresh() {
        table.refresh();
        int joint = desk.selection().jointNode();
        String name = joint < 0 ? "" : desk.now().nodes().get(joint).name();
        lock.setDisable(joint < 0);
        lock.setSelected(!name.isEmpty()
                && List.of(desk.selection().lockedJoints().split(", *")).contains(name));
        locked.setText(
                desk.selection().lockedJoints().isEmpty()
                        ? Labels.of("skin.locked.none")
                        : Labels.of("skin.locked", desk.selection().lockedJoints()));
    }

    private String mesh() throws StepRow.Unclear {
        if (desk.selection().chosen().get().isEmpty()) {
            throw new StepRow.Unclear("skin.choose.first");
        }
        return desk.now().meshRef(desk.selection().chosen().get().mesh());
    }

    private VertexSet chosen() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        return VertexSet.chosen(desk.now().meshes().get(chosen.mesh()), chosen.vertices());
    }

    private String held() {
        return desk.selection().lockedJoints();
    }

    private AdjustWeight adjusted(AdjustWeight.How how, int sign) throws StepRow.Unclear {
        String mesh = mesh();
        if (desk.selection().jointNode() < 0) {
            throw new StepRow.Unclear("skeleton.choose");
        }
        OptionalDouble value = Lengths.number(amount.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("skin.weight.bad", amount.getText());
        }
        return new AdjustWeight(
                mesh, desk.selection().joint().get(), chosen(), how, sign * value.getAsDouble(), held());
    }

    private SharpenWeights sharper(SharpenWeights.How how) throws StepRow.Unclear {
        return new SharpenWeights(mesh(), chosen(), how, held());
    }

    private void remember() {
        if (!desk.selection().chosen().get().isEmpty()) {
            copied = chosen();
            copiedFrom = desk.now().meshRef(desk.selection().chosen().get().mesh());
            desk.jobs()
                    .message()
                    .set(Labels.of(
                            "skin.copied",
                            desk.selection().chosen().get().vertices().cardinality()));
        }
    }

    private CopyWeights pasted() throws StepRow.Unclear {
        String mesh = mesh();
        if (copied == null || !copiedFrom.equals(mesh)) {
            throw new StepRow.Unclear("skin.copy.first");
        }
        return new CopyWeights(mesh, copied, chosen(), 8);
    }
}
