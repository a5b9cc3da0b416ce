package org.cleanmarrow.desktop.station;

import java.util.AbstractList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;
import javafx.collections.FXCollections;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.steps.skin.AdjustWeight;
import org.cleanmarrow.steps.skin.AverageAcross;
import org.cleanmarrow.steps.skin.CopyWeights;
import org.cleanmarrow.steps.skin.SharpenWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.weights.Row;
import org.cleanmarrow.weights.WeldedWeights;
import org.cleanmarrow.work.VertexSet;

/** The chosen vertices' weights row by row; weights added, scaled, evened out and copied, and joints locked meanwhile. */
final class InfluenceSection extends VBox {
    private final Desk desk;
    private final ListView<Integer> table = new ListView<>();
    private final CheckBox lock = new CheckBox(Labels.of("skin.lock"));
    private final Label locked = Widgets.sentence("");
    private final TextField amount = new TextField("0.10");
    private final VBox even;
    private Desk.Chosen listed;
    private VertexSet copied;
    private String copiedFrom = "";

    InfluenceSection(Desk desk) {
        super(6);
        this.desk = desk;
        table.setId("weight-table");
        table.getStyleClass().add("mono");
        table.setFixedCellSize(22);
        table.setAccessibleText(Labels.of("skin.table"));
        table.setCellFactory(l -> new ListCell<>() {
            @Override
            protected void updateItem(Integer vertex, boolean empty) {
                super.updateItem(vertex, empty);
                setText(empty || vertex == null ? null : row(vertex));
            }
        });
        lock.setId("lock-joint");
        lock.setOnAction(e -> {
            desk.toggleLock();
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
        getChildren().addAll(lock, locked, table, Widgets.row(amount), adjust);
        even = new VBox(
                6,
                new StepRow(desk, "even-preview")
                        .also("smooth", "skin.smooth", () -> new SmoothWeights(mesh(), chosen(), 0.5, 4, held()))
                        .also("sharpen", "skin.sharpen", () -> sharper(SharpenWeights.How.MORE))
                        .also("harden", "skin.harden", () -> sharper(SharpenWeights.How.HARD))
                        .also("one-joint", "skin.one", () -> sharper(SharpenWeights.How.ONE))
                        .also("even-along", "skin.along", () -> new AverageAcross(mesh(), chosen(), 0))
                        .also("average", "skin.average", () -> new CopyWeights(mesh(), chosen(), chosen(), 8)),
                Widgets.row(Widgets.button("copy-from", "skin.copy", this::remember)),
                new StepRow(desk, "copy-preview").also("copy-to", "skin.paste", this::pasted));
    }

    /** Weights evened out, sharpened and copied. */
    VBox even() {
        return even;
    }

    private Skin skin() {
        Asset asset = desk.now();
        int mesh = desk.chosen().get().mesh();
        return mesh < 0 || asset.skinOfMesh(mesh) < 0 ? null : asset.skins().get(asset.skinOfMesh(mesh));
    }

    /** One vertex with all that moves it, the heaviest first. */
    private String row(int vertex) {
        Skin skin = skin();
        Mesh mesh = desk.now().meshes().get(desk.chosen().get().mesh());
        if (skin == null || vertex >= mesh.vertexCount()) {
            return "";
        }
        Row row = new Row();
        row.add(WeldedWeights.rows(mesh).apply(vertex), 1);
        StringBuilder out = new StringBuilder(String.format(Locale.ROOT, "%6d", vertex));
        while (row.size() > 0) {
            int at = row.largest();
            out.append(String.format(
                    Locale.ROOT,
                    "  %.2f %s",
                    row.weight(at),
                    desk.now().nodes().get(skin.joints()[row.joint(at)]).name()));
            row.remove(at);
        }
        return out.toString();
    }

    /** Lists the choice anew. */
    void refresh() {
        Desk.Chosen chosen = desk.chosen().get();
        boolean any = !chosen.isEmpty() && skin() != null;
        if (listed == chosen) {
            table.refresh();
        } else {
            listed = chosen;
            table.setItems(FXCollections.observableList(any ? numbers(chosen) : List.of()));
        }
        table.setPrefHeight(Math.min(4, Math.max(1, table.getItems().size())) * 22 + 16);
        table.setVisible(any);
        table.setManaged(any);
        int joint = desk.jointNode();
        String name = joint < 0 ? "" : desk.now().nodes().get(joint).name();
        lock.setDisable(joint < 0);
        lock.setSelected(
                !name.isEmpty() && List.of(desk.lockedJoints().split(", *")).contains(name));
        locked.setText(desk.lockedJoints().isEmpty() ? "" : Labels.of("skin.locked", desk.lockedJoints()));
        locked.setManaged(!desk.lockedJoints().isEmpty());
    }

    /** Vertex numbers that become objects only where a row is seen. */
    private static List<Integer> numbers(Desk.Chosen chosen) {
        int[] vertices = chosen.vertices().stream().toArray();
        return new AbstractList<>() {
            @Override
            public Integer get(int index) {
                return vertices[index];
            }

            @Override
            public int size() {
                return vertices.length;
            }
        };
    }

    private String mesh() throws StepRow.Unclear {
        if (desk.chosen().get().isEmpty()) {
            throw new StepRow.Unclear("skin.choose.first");
        }
        return desk.now().meshRef(desk.chosen().get().mesh());
    }

    private VertexSet chosen() {
        Desk.Chosen chosen = desk.chosen().get();
        return VertexSet.chosen(desk.now().meshes().get(chosen.mesh()), chosen.vertices());
    }

    private String held() {
        return desk.lockedJoints();
    }

    private AdjustWeight adjusted(AdjustWeight.How how, int sign) throws StepRow.Unclear {
        String mesh = mesh();
        if (desk.jointNode() < 0) {
            throw new StepRow.Unclear("skeleton.choose");
        }
        OptionalDouble value = Lengths.number(amount.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("skin.weight.bad", amount.getText());
        }
        return new AdjustWeight(mesh, desk.joint().get(), chosen(), how, sign * value.getAsDouble(), held());
    }

    private SharpenWeights sharper(SharpenWeights.How how) throws StepRow.Unclear {
        return new SharpenWeights(mesh(), chosen(), how, held());
    }

    private void remember() {
        if (!desk.chosen().get().isEmpty()) {
            copied = chosen();
            copiedFrom = desk.now().meshRef(desk.chosen().get().mesh());
            desk.message()
                    .set(Labels.of("skin.copied", desk.chosen().get().vertices().cardinality()));
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
