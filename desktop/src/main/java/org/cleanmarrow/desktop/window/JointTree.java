package org.cleanmarrow.desktop.window;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.TreeCell;
import javafx.scene.control.TreeItem;
import javafx.scene.control.TreeView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;

/** The joints as the tree they are, with how many vertices each moves, and a filter by name. */
final class JointTree extends VBox {
    private final Desk desk;
    private final TextField filter = new TextField();
    private final TreeView<Row> tree = new TreeView<>(new TreeItem<>());
    private final Label count = new Label();
    private final Map<String, TreeItem<Row>> items = new HashMap<>();
    private final Set<String> folded = new HashSet<>();
    private List<Row> listed = List.of();
    private String shownFor = "";
    private boolean filling;

    /** A joint: its number among the rows, the row of the one above or -1, and how many vertices it moves. */
    record Row(String ref, String name, int above, int vertices) {}

    JointTree(Desk desk) {
        super(4);
        this.desk = desk;
        filter.setPromptText(Labels.of("contents.filter"));
        filter.setId("joint-filter");
        filter.setAccessibleText(Labels.of("contents.filter"));
        filter.textProperty().addListener((o, a, b) -> fill());
        tree.setId("joints");
        tree.setAccessibleText(Labels.of("contents.joints"));
        tree.setShowRoot(false);
        tree.setFixedCellSize(24);
        tree.setMinHeight(80);
        tree.setCellFactory(t -> new Cell());
        VBox.setVgrow(tree, Priority.ALWAYS);
        tree.getSelectionModel().selectedItemProperty().addListener((o, a, item) -> {
            if (!filling && item != null && item.getValue() != null) {
                desk.selection().joint().set(item.getValue().ref);
                if (desk.station().get() == Station.SKIN) {
                    desk.seeing().paint().set(ShadingMode.INFLUENCE);
                }
            }
        });
        getChildren().addAll(Widgets.heading("contents.joints", count), filter, tree);
    }

    void refresh() {
        Asset asset = desk.now();
        List<Row> rows = desk.facts().of("joint rows", asset, w -> rows(asset)).orElse(listed);
        if (!rows.equals(listed)) {
            boolean sameTree = sameTree(rows);
            listed = rows;
            count.setText(Integer.toString(rows.size()));
            if (sameTree) {
                update();
            } else {
                shownFor = null;
                fill();
            }
        }
        select();
    }

    /** Whether nothing but the numbers of vertices changed. */
    private boolean sameTree(List<Row> rows) {
        boolean same = rows.size() == listed.size();
        for (int i = 0; same && i < rows.size(); i++) {
            Row a = rows.get(i);
            Row b = listed.get(i);
            same = a.ref.equals(b.ref) && a.name.equals(b.name) && a.above == b.above;
        }
        return same;
    }

    private void update() {
        for (Row row : listed) {
            TreeItem<Row> item = items.get(row.ref);
            if (item != null && !item.getValue().equals(row)) {
                item.setValue(row);
            }
        }
    }

    private static List<Row> rows(Asset asset) {
        boolean[] flags = asset.jointFlags();
        int[] counts = Inventory.verticesMoved(asset);
        String[] refs = asset.nodeRefs();
        int[] parents = asset.parents();
        List<Row> out = new ArrayList<>();
        // A stack of its own, because chains may be far deeper than the thread's.
        ArrayDeque<int[]> stack = new ArrayDeque<>();
        for (int n = parents.length - 1; n >= 0; n--) {
            if (parents[n] < 0) {
                stack.push(new int[] {n, -1});
            }
        }
        while (!stack.isEmpty()) {
            int[] top = stack.pop();
            int above = top[1];
            if (flags[top[0]]) {
                out.add(new Row(refs[top[0]], asset.nodes().get(top[0]).name(), above, counts[top[0]]));
                above = out.size() - 1;
            }
            int[] children = asset.nodes().get(top[0]).children();
            for (int i = children.length - 1; i >= 0; i--) {
                stack.push(new int[] {children[i], above});
            }
        }
        return out;
    }

    /** Shows the joints whose names hold what is typed, below those that they hang on. */
    private void fill() {
        String wanted = filter.getText().strip().toLowerCase(Locale.ROOT);
        if (wanted.equals(shownFor)) {
            return;
        }
        shownFor = wanted;
        boolean[] in = new boolean[listed.size()];
        for (int i = in.length - 1; i >= 0; i--) {
            Row row = listed.get(i);
            in[i] |= row.name.toLowerCase(Locale.ROOT).contains(wanted);
            if (in[i] && row.above >= 0) {
                in[row.above] = true;
            }
        }
        filling = true;
        items.clear();
        TreeItem<Row> root = new TreeItem<>();
        root.setExpanded(true);
        List<TreeItem<Row>> made = new ArrayList<>();
        for (int i = 0; i < in.length; i++) {
            Row row = listed.get(i);
            TreeItem<Row> item = in[i] ? new TreeItem<>(row) : null;
            made.add(item);
            if (item != null) {
                items.put(row.ref, item);
                item.setExpanded(!wanted.isEmpty() || !folded.contains(row.ref));
                item.expandedProperty().addListener((o, was, is) -> remember(row.ref, is));
                (row.above < 0 ? root : made.get(row.above)).getChildren().add(item);
            }
        }
        tree.setRoot(root);
        filling = false;
        select();
    }

    private void remember(String ref, boolean unfolded) {
        if (!unfolded) {
            folded.add(ref);
        } else if (filter.getText().isBlank()) {
            folded.remove(ref);
        }
    }

    /** Marks the joint in hand, unfolds the way to it, and scrolls only where it is out of sight. */
    private void select() {
        TreeItem<Row> item = items.get(desk.selection().joint().get());
        if (item == tree.getSelectionModel().getSelectedItem()) {
            return;
        }
        filling = true;
        if (item == null) {
            tree.getSelectionModel().clearSelection();
        } else {
            for (TreeItem<Row> up = item.getParent(); up != null; up = up.getParent()) {
                up.setExpanded(true);
            }
            tree.getSelectionModel().clearAndSelect(tree.getRow(item));
            reveal();
        }
        filling = false;
    }

    /** Scrolls to the joint in hand where it is out of sight. */
    void reveal() {
        int row = tree.getSelectionModel().getSelectedIndex();
        if (row >= 0 && !isSeen(row)) {
            tree.scrollTo(Math.max(0, row - 4));
        }
    }

    private boolean isSeen(int row) {
        return tree.lookupAll(".tree-cell").stream()
                .map(n -> (TreeCell<?>) n)
                .filter(c -> !c.isEmpty() && c.getIndex() == row)
                .anyMatch(c -> c.getBoundsInParent().getMinY() >= 0
                        && c.getBoundsInParent().getMaxY() <= tree.getHeight());
    }

    private static final class Cell extends TreeCell<Row> {
        private final Label name = Widgets.name("");
        private final Label count = new Label();
        private final HBox row = new HBox(6, name, Widgets.spring(), count);

        Cell() {
            name.setMinWidth(20);
            count.getStyleClass().add("ink-2");
            count.setMinWidth(Region.USE_PREF_SIZE);
            row.setPrefWidth(0);
            HBox.setHgrow(row, Priority.ALWAYS);
            // For good: to take it out and put it back would style it anew each time.
            setGraphic(row);
        }

        @Override
        protected void updateItem(Row item, boolean empty) {
            super.updateItem(item, empty);
            setText(null);
            row.setVisible(!empty && item != null);
            if (empty || item == null) {
                setAccessibleText("");
                return;
            }
            name.setText(item.name.isEmpty() ? item.ref : item.name);
            count.setText(item.vertices == 0 ? "" : String.format(Locale.ROOT, "%,d", item.vertices));
            setAccessibleText(Labels.of("contents.joint.accessible", item.name, item.vertices));
        }
    }
}
