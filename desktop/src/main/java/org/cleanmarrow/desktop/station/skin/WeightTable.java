package org.cleanmarrow.desktop.station.skin;

import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.OptionalDouble;
import java.util.stream.IntStream;
import javafx.beans.property.ReadOnlyObjectWrapper;
import javafx.collections.FXCollections;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.query.Movers;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.work.VertexSet;

/**
 * The weights of the selection: a row a vertex, a column a joint that moves any of it, the heaviest first. A cell is typed
 * into; a heading sorts; rows can be kept to those that the joint in hand moves by more than a weight. Rows are numbers
 * until they are seen, so that a hundred thousand scroll as a hundred do. The order stays while weights change, so that
 * nothing moves under the hand.
 */
final class WeightTable extends VBox {
    private static final int MOST_COLUMNS = 32;

    private final Desk desk;
    private final TableView<Integer> table = new TableView<>();
    private final TextField least = new TextField();
    private final Label count = new Label();
    private Selection.Chosen listed;
    private List<Integer> joints = List.of();
    private String orderedBy = "";

    WeightTable(Desk desk) {
        super(4);
        this.desk = desk;
        table.setId("weight-table");
        table.setAccessibleText(Labels.of("skin.table"));
        table.setEditable(true);
        table.setFixedCellSize(22);
        table.setPrefHeight(22 * 9 + 4);
        table.getSelectionModel().setCellSelectionEnabled(true);
        table.setPlaceholder(new Label(Labels.of("skin.choose.first")));
        table.setSortPolicy(t -> {
            order();
            return true;
        });
        table.getFocusModel().focusedCellProperty().addListener((o, a, at) -> {
            if (at != null
                    && at.getTableColumn() instanceof JointColumn column
                    && column.node != desk.selection().jointNode()) {
                desk.selection().joint().set(desk.now().nodeRef(column.node));
            }
        });
        least.setId("weight-over");
        least.setPrefColumnCount(4);
        least.setPromptText("0");
        least.setAccessibleText(Labels.of("skin.table.over"));
        least.textProperty().addListener((o, a, b) -> order());
        count.getStyleClass().add("ink-2");
        getChildren().addAll(table, Widgets.labelled("skin.table.over", least));
        getChildren().add(count);
    }

    /** A joint's column. */
    private static final class JointColumn extends TableColumn<Integer, Double> {
        private final int node;

        JointColumn(int node, String name) {
            this.node = node;
            Label heading = new Label(name);
            Tips.say(heading, name);
            setGraphic(heading);
            setId("column-" + name);
            setPrefWidth(74);
            setSortType(SortType.DESCENDING);
        }
    }

    /** Follows the selection, the joint in hand and the weights. */
    void refresh() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        Asset asset = desk.now();
        boolean any = !chosen.isEmpty() && asset.skinOfMesh(chosen.mesh()) >= 0;
        if (!any) {
            listed = null;
            table.setItems(FXCollections.emptyObservableList());
            count.setText("");
            return;
        }
        List<Movers.Mover> movers = desk.facts()
                .of("movers", chosen, asset, w -> Movers.of(asset, chosen.mesh(), chosen.vertices()))
                .orElse(null);
        if (movers != null) {
            showColumns(movers, listed != chosen);
        }
        if (listed != chosen) {
            listed = chosen;
            orderedBy = "";
            table.getSortOrder().clear();
        } else {
            table.refresh();
        }
        order();
    }

    /** Columns keep their order while the selection is the same; a joint that comes to move it is added at the end. */
    private void showColumns(List<Movers.Mover> movers, boolean anew) {
        List<Integer> wanted = new ArrayList<>(anew ? List.of() : joints);
        movers.stream().map(Movers.Mover::node).filter(n -> !wanted.contains(n)).forEach(wanted::add);
        List<Integer> shown = wanted.stream().limit(MOST_COLUMNS).toList();
        if (shown.equals(joints) && !table.getColumns().isEmpty()) {
            return;
        }
        joints = shown;
        List<TableColumn<Integer, ?>> columns = new ArrayList<>();
        TableColumn<Integer, Integer> number = new TableColumn<>(Labels.of("skin.table.vertex"));
        number.setPrefWidth(58);
        number.setCellValueFactory(row -> new ReadOnlyObjectWrapper<>(row.getValue()));
        columns.add(number);
        for (int node : joints) {
            columns.add(column(node));
        }
        table.getColumns().setAll(columns);
    }

    private JointColumn column(int node) {
        JointColumn column = new JointColumn(node, desk.now().nodeRef(node));
        column.setCellValueFactory(row -> new ReadOnlyObjectWrapper<>(weight(row.getValue(), node)));
        column.setCellFactory(c -> new Cell());
        column.setOnEditCommit(e -> set(e.getRowValue(), node, e.getNewValue()));
        return column;
    }

    private double weight(int vertex, int node) {
        Asset asset = desk.now();
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty() || node >= asset.nodes().size() || asset.skinOfMesh(chosen.mesh()) < 0) {
            return 0;
        }
        int joint = asset.skins().get(asset.skinOfMesh(chosen.mesh())).indexOfNode(node);
        return joint < 0 ? 0 : weight(asset.meshes().get(chosen.mesh()), vertex, joint);
    }

    private static double weight(Mesh mesh, int vertex, int joint) {
        int at = vertex;
        for (Primitive p : mesh.primitives()) {
            if (at < p.vertexCount()) {
                Influences rows = p.influences();
                return rows == null ? 0 : rows.weight(at, joint);
            }
            at -= p.vertexCount();
        }
        return 0;
    }

    private void set(int vertex, int node, Double weight) {
        if (weight == null) {
            return;
        }
        Asset asset = desk.now();
        int mesh = desk.selection().chosen().get().mesh();
        BitSet one = new BitSet();
        one.set(vertex);
        desk.apply(new SetWeight(
                asset.meshRef(mesh),
                asset.nodeRef(node),
                VertexSet.chosen(asset.meshes().get(mesh), one),
                weight,
                desk.selection().lockedJoints()));
    }

    /** Rows by the heading that was pressed, of the vertices that the joint in hand moves by more than was asked for. */
    private void order() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty() || listed != chosen) {
            return;
        }
        Asset asset = desk.now();
        OptionalDouble over = least.getText().isBlank() ? OptionalDouble.empty() : Lengths.number(least.getText());
        TableColumn<Integer, ?> by =
                table.getSortOrder().isEmpty() ? null : table.getSortOrder().getFirst();
        int sort = by instanceof JointColumn column ? column.node : -1;
        boolean falling = by != null && by.getSortType() == TableColumn.SortType.DESCENDING;
        int filter = over.isPresent() ? desk.selection().jointNode() : -1;
        String key = System.identityHashCode(chosen) + " " + sort + " " + (by != null) + falling + " " + filter + " "
                + over.orElse(0);
        if (key.equals(orderedBy)) {
            return;
        }
        desk.facts()
                .of("weight rows", chosen, key, w -> rows(asset, chosen, sort, falling, filter, over.orElse(0)))
                .ifPresent(rows -> {
                    orderedBy = key;
                    table.setItems(FXCollections.observableList(numbers(rows)));
                    count.setText(Labels.of(
                            "skin.table.count", rows.length, chosen.vertices().cardinality()));
                });
    }

    private static int[] rows(
            Asset asset, Selection.Chosen chosen, int sort, boolean falling, int filter, double over) {
        Mesh mesh = asset.meshes().get(chosen.mesh());
        var skin = asset.skins().get(asset.skinOfMesh(chosen.mesh()));
        int kept = filter < 0 ? -1 : skin.indexOfNode(filter);
        IntStream all = chosen.vertices().stream()
                .filter(v -> v < mesh.vertexCount())
                .filter(v -> filter < 0 || kept >= 0 && weight(mesh, v, kept) > over);
        int joint = sort < 0 ? -1 : skin.indexOfNode(sort);
        if (joint < 0) {
            int[] rising = all.toArray();
            return falling
                    ? IntStream.range(0, rising.length)
                            .map(i -> rising[rising.length - 1 - i])
                            .toArray()
                    : rising;
        }
        record Weighted(int vertex, double weight) {}
        Comparator<Weighted> order = Comparator.comparingDouble(w -> falling ? -w.weight : w.weight);
        return all.mapToObj(v -> new Weighted(v, weight(mesh, v, joint)))
                .sorted(order)
                .mapToInt(Weighted::vertex)
                .toArray();
    }

    /** Vertex numbers that become objects only where a row is seen. */
    private static List<Integer> numbers(int[] vertices) {
        int[] own = Arrays.copyOf(vertices, vertices.length);
        return new AbstractList<>() {
            @Override
            public Integer get(int index) {
                return own[index];
            }

            @Override
            public int size() {
                return own.length;
            }
        };
    }

    /** A weight that is typed over; Enter takes it, Escape leaves it. */
    private static final class Cell extends TableCell<Integer, Double> {
        private TextField field;

        Cell() {
            setAlignment(Pos.CENTER_RIGHT);
        }

        @Override
        public void startEdit() {
            super.startEdit();
            if (!isEditing()) {
                return;
            }
            field = new TextField(String.format(Locale.ROOT, "%.3f", getItem()));
            field.setAccessibleText(Labels.of("skin.weight"));
            field.setOnAction(e -> {
                double typed = Lengths.number(field.getText()).orElse(Double.NaN);
                if (typed >= 0 && typed <= 1) {
                    commitEdit(typed);
                } else {
                    cancelEdit();
                }
            });
            field.setOnKeyPressed(e -> {
                if (e.getCode() == KeyCode.ESCAPE) {
                    cancelEdit();
                    e.consume();
                }
            });
            setText(null);
            setGraphic(field);
            field.selectAll();
            field.requestFocus();
        }

        @Override
        public void cancelEdit() {
            super.cancelEdit();
            show(getItem());
        }

        @Override
        protected void updateItem(Double item, boolean empty) {
            super.updateItem(item, empty);
            if (!isEditing()) {
                show(empty ? null : item);
            }
        }

        private void show(Double item) {
            setGraphic(null);
            setText(item == null ? null : item == 0 ? "·" : String.format(Locale.ROOT, "%.3f", item));
        }
    }
}
