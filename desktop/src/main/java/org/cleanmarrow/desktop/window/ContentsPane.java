package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.beans.binding.Bindings;
import javafx.collections.FXCollections;
import javafx.collections.ObservableList;
import javafx.geometry.Insets;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.query.VertexChoice;

/** What the asset is made of: parts, the joints that move the chosen vertices, and all joints with a filter. */
final class ContentsPane extends VBox {
    private static final int MOST_MOVERS = 6;
    /** Parts seen at once; further ones are scrolled to. */
    private static final int MOST_PARTS = 6;

    private static final double PART_ROW = 22;

    private final Desk desk;
    private final VBox parts = new VBox(2);
    private final VBox movers = new VBox(4);
    private final VBox named = new VBox(2);
    private final ScrollPane partsScroll = new ScrollPane(parts);
    private List<Ledger.Choice> listedChoices = List.of();
    private final TextField filter = new TextField();
    private final ObservableList<JointRow> rows = FXCollections.observableArrayList();
    private final ListView<JointRow> joints = new ListView<>(rows);
    private List<JointRow> all = List.of();
    private Asset listed;
    private boolean filling;

    /** One joint with its depth in the tree and how many vertices it moves. */
    record JointRow(String ref, String name, int depth, int vertices) {}

    ContentsPane(Desk desk) {
        this.desk = desk;
        getStyleClass().add("contents");
        setMinWidth(150);
        setPrefWidth(226);
        setMaxWidth(340);
        filter.setPromptText(Labels.of("contents.filter"));
        filter.setId("joint-filter");
        filter.textProperty().addListener((o, a, b) -> applyFilter());
        joints.setId("joints");
        joints.setAccessibleText(Labels.of("contents.joints"));
        joints.setCellFactory(list -> new JointCell());
        joints.setFixedCellSize(22);
        VBox.setVgrow(joints, Priority.ALWAYS);
        joints.getSelectionModel().selectedItemProperty().addListener((o, a, row) -> {
            if (!filling && row != null) {
                desk.joint().set(row.ref);
                if (desk.station().get() == org.cleanmarrow.examination.Station.SKIN) {
                    desk.seeing().paint().set(ShadingMode.INFLUENCE);
                }
            }
        });
        Label count = new Label();
        count.textProperty().bind(Bindings.createStringBinding(() -> Integer.toString(rows.size()), rows));
        HBox heading = Widgets.heading("contents.joints", count);
        partsScroll.setFitToWidth(true);
        partsScroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        partsScroll.setFocusTraversable(false);
        VBox jointBox = new VBox(4, heading, filter, joints);
        VBox.setVgrow(jointBox, Priority.ALWAYS);
        getChildren().addAll(movers, partsScroll, named, jointBox);
        desk.revision().addListener((o, a, b) -> refresh());
        desk.chosen().addListener((o, a, b) -> refreshMovers());
        desk.joint().addListener((o, a, b) -> {
            selectJoint();
            refreshMovers();
        });
        refresh();
    }

    private void refresh() {
        getChildren().forEach(c -> c.setVisible(desk.isOpen()));
        if (!desk.isOpen()) {
            return;
        }
        if (listedChoices != desk.history().ledger().choices()) {
            refreshNamed();
        }
        if (listed == desk.now()) {
            return;
        }
        listed = desk.now();
        refreshParts();
        all = jointRows(listed);
        applyFilter();
        refreshMovers();
    }

    private void refreshParts() {
        parts.getChildren().setAll(Widgets.heading("contents.parts"));
        Asset asset = desk.now();
        for (int m = 0; m < asset.meshes().size(); m++) {
            Mesh mesh = asset.meshes().get(m);
            int number = m;
            HBox row = Widgets.fact(asset.meshRef(m), String.format(Locale.ROOT, "%,d", mesh.triangleCount()));
            row.getStyleClass().add("part");
            row.setOnMouseClicked(e -> {
                desk.choose(number, VertexChoice.all(mesh));
            });
            row.setAccessibleText(Labels.of("contents.part.accessible", mesh.name(), mesh.triangleCount()));
            row.setFocusTraversable(true);
            row.setOnKeyPressed(e -> {
                if (e.getCode() == KeyCode.ENTER) {
                    desk.choose(number, VertexChoice.all(mesh));
                }
            });
            parts.getChildren().add(row);
        }
        double height = Math.min(MOST_PARTS, asset.meshes().size()) * PART_ROW + 30;
        partsScroll.setMinHeight(height);
        partsScroll.setPrefHeight(height);
    }

    private void refreshNamed() {
        listedChoices = desk.history().ledger().choices();
        named.getChildren().clear();
        if (listedChoices.isEmpty()) {
            return;
        }
        named.getChildren().add(Widgets.heading("contents.named"));
        for (Ledger.Choice choice : listedChoices) {
            Hyperlink name = new Hyperlink(choice.name());
            name.setId("choice-" + choice.name());
            name.setOnAction(e -> desk.chooseNamed(choice));
            Hyperlink forget = new Hyperlink("×");
            forget.setAccessibleText(Labels.of("contents.forget", choice.name()));
            forget.setOnAction(e -> desk.forgetChoice(choice.name()));
            named.getChildren().add(new HBox(6, name, Widgets.spring(), forget));
        }
    }

    static List<JointRow> jointRows(Asset asset) {
        boolean[] flags = asset.jointFlags();
        int[] counts = Inventory.verticesMoved(asset);
        List<JointRow> out = new ArrayList<>();
        String[] refs = asset.nodeRefs();
        int[] parents = asset.parents();
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                addRows(asset, n, refs, flags, counts, out);
            }
        }
        return out;
    }

    private static void addRows(
            Asset asset, int node, String[] refs, boolean[] flags, int[] counts, List<JointRow> out) {
        // A stack of its own, because chains may be far deeper than the thread's.
        java.util.ArrayDeque<int[]> stack = new java.util.ArrayDeque<>();
        stack.push(new int[] {node, 0});
        while (!stack.isEmpty()) {
            int[] top = stack.pop();
            boolean joint = flags[top[0]];
            if (joint) {
                out.add(new JointRow(refs[top[0]], asset.nodes().get(top[0]).name(), top[1], counts[top[0]]));
            }
            int[] children = asset.nodes().get(top[0]).children();
            for (int i = children.length - 1; i >= 0; i--) {
                stack.push(new int[] {children[i], top[1] + (joint ? 1 : 0)});
            }
        }
    }

    private void applyFilter() {
        String wanted = filter.getText().strip().toLowerCase(Locale.ROOT);
        filling = true;
        rows.setAll(all.stream()
                .filter(r -> r.name.toLowerCase(Locale.ROOT).contains(wanted))
                .toList());
        filling = false;
        selectJoint();
    }

    private void selectJoint() {
        filling = true;
        int index = -1;
        for (int i = 0; i < rows.size(); i++) {
            if (rows.get(i).ref.equals(desk.joint().get())) {
                index = i;
            }
        }
        if (index >= 0) {
            if (joints.getSelectionModel().getSelectedIndex() != index) {
                joints.getSelectionModel().clearAndSelect(index);
                joints.scrollTo(Math.max(0, index - 4));
            }
        } else {
            joints.getSelectionModel().clearSelection();
        }
        filling = false;
    }

    private void refreshMovers() {
        movers.getChildren().clear();
        Desk.Chosen chosen = desk.chosen().get();
        if (!desk.isOpen() || chosen.isEmpty()) {
            return;
        }
        movers.getChildren().add(Widgets.heading("contents.movers"));
        double[] sums = meanWeights(desk.now(), chosen);
        Integer[] order = new Integer[sums.length];
        for (int i = 0; i < order.length; i++) {
            order[i] = i;
        }
        java.util.Arrays.sort(order, (a, b) -> Double.compare(sums[b], sums[a]));
        for (int i = 0; i < Math.min(MOST_MOVERS, order.length) && sums[order[i]] > 0.0005; i++) {
            movers.getChildren().add(mover(order[i], sums[order[i]]));
        }
        if (movers.getChildren().size() == 1) {
            movers.getChildren().add(Widgets.sentence(Labels.of("contents.movers.none")));
        }
    }

    /** Mean weight of each node over the chosen vertices. */
    private static double[] meanWeights(Asset asset, Desk.Chosen chosen) {
        double[] sums = new double[asset.nodes().size()];
        int skin = asset.skinOfMesh(chosen.mesh());
        if (skin < 0) {
            return sums;
        }
        int[] list = asset.skins().get(skin).joints();
        int first = 0;
        for (Primitive p : asset.meshes().get(chosen.mesh()).primitives()) {
            Influences rows = p.influences();
            for (int v = chosen.vertices().nextSetBit(first);
                    rows != null && v >= 0 && v < first + p.vertexCount();
                    v = chosen.vertices().nextSetBit(v + 1)) {
                for (int i = rows.offsets()[v - first]; i < rows.offsets()[v - first + 1]; i++) {
                    sums[list[rows.joints()[i]]] += rows.weights()[i];
                }
            }
            first += p.vertexCount();
        }
        int count = chosen.vertices().cardinality();
        for (int n = 0; n < sums.length; n++) {
            sums[n] /= count;
        }
        return sums;
    }

    private VBox mover(int node, double mean) {
        String ref = desk.now().nodeRef(node);
        Label name = Widgets.name(ref);
        Label value = new Label(String.format(Locale.ROOT, "%.2f", mean));
        value.setMinWidth(USE_PREF_SIZE);
        Region bar = new Region();
        bar.getStyleClass().add("weight-bar");
        bar.setMaxWidth(Math.max(3, mean * 170));
        VBox box = new VBox(2, new HBox(6, name, Widgets.spring(), value), bar);
        box.setPadding(new Insets(3, 6, 3, 6));
        box.getStyleClass().add("mover");
        if (ref.equals(desk.joint().get())) {
            box.getStyleClass().add("chosen");
        }
        box.setOnMouseClicked(e -> {
            desk.joint().set(ref);
            desk.seeing().paint().set(ShadingMode.INFLUENCE);
        });
        return box;
    }

    private static final class JointCell extends ListCell<JointRow> {
        private final Label name = Widgets.name("");
        private final Label count = new Label();
        private final HBox row = new HBox(6, name, Widgets.spring(), count);

        JointCell() {
            name.setMinWidth(20);
            count.getStyleClass().add("ink-2");
            count.setMinWidth(Region.USE_PREF_SIZE);
        }

        @Override
        protected void updateItem(JointRow item, boolean empty) {
            super.updateItem(item, empty);
            if (empty || item == null) {
                setGraphic(null);
                setAccessibleText("");
                setTooltip(null);
                return;
            }
            name.setText(item.name.isEmpty() ? item.ref : item.name);
            count.setText(item.vertices == 0 ? "" : String.format(Locale.ROOT, "%,d", item.vertices));
            row.setPadding(new Insets(0, 0, 0, Math.min(item.depth, 14) * 5));
            row.setPrefWidth(0);
            setGraphic(row);
            setAccessibleText(Labels.of("contents.joint.accessible", item.name, item.vertices));
        }
    }
}
