package org.cleanmarrow.desktop.station.intake;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import javafx.collections.FXCollections;
import javafx.collections.ObservableList;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.steps.intake.MarkForExport;

/** Every item of the asset with a switch for whether it ships, and sweeps by kind, name, branch and picture. */
final class InventoryList extends VBox {
    private final Desk desk;
    private final ObservableList<Inventory.Item> rows = FXCollections.observableArrayList();
    private final ListView<Inventory.Item> list = new ListView<>(rows);
    private final ComboBox<MarkForExport.Kind> kind = new ComboBox<>();
    private final TextField names = new TextField("*");
    private final CheckBox branch = new CheckBox(Labels.of("inventory.branch"));
    private final Label sums = Widgets.sentence("");
    private final VBox sweeps;
    private Asset listed;
    private List<Inventory.Item> all = List.of();

    InventoryList(Desk desk, ViewportPane viewport) {
        super(6);
        this.desk = desk;
        kind.getItems().setAll(MarkForExport.Kind.values());
        kind.setValue(MarkForExport.Kind.ANY);
        kind.setId("ship-kind");
        kind.setAccessibleText(Labels.of("inventory.kind"));
        kind.setConverter(Widgets.shown(k -> Labels.of("kind." + k.name().toLowerCase(Locale.ROOT))));
        names.setId("ship-names");
        names.setPrefColumnCount(9);
        names.setAccessibleText(Labels.of("inventory.names"));
        Tips.say(names, Labels.of("inventory.names.tip"));
        branch.setId("ship-branch");
        kind.valueProperty().addListener((o, a, b) -> filter());
        names.textProperty().addListener((o, a, b) -> filter());
        list.setId("inventory");
        VBox.setVgrow(list, Priority.ALWAYS);
        list.setFixedCellSize(24);
        list.setCellFactory(view -> new Row());
        list.setPlaceholder(new Label(Labels.of("inventory.none")));
        list.getSelectionModel().selectedItemProperty().addListener((o, a, item) -> show(item));
        StepRow sweep = new StepRow(desk, "ship-preview")
                .also("leave-behind", "inventory.leave", () -> step(false))
                .also("ship-again", "inventory.ship", () -> step(true));
        Button seen = Widgets.button("leave-unseen", "inventory.unseen", () -> leave(viewport.outside()));
        Tips.say(seen, Labels.of("inventory.unseen.tip"));
        HBox what = new HBox(6, kind, names);
        HBox.setHgrow(names, Priority.ALWAYS);
        sweeps = new VBox(6, branch, sweep, Widgets.row(seen));
        sums.setMinHeight(36);
        getChildren().addAll(Widgets.heading("contents.items"), what, list, sums);
        desk.selection().joint().addListener((o, a, b) -> branchText());
    }

    /** Sweeps over what the list shows. */
    VBox sweep() {
        return sweeps;
    }

    /** How many stay behind, in a word. */
    String fact() {
        long behind = all.stream().filter(i -> !i.ships()).count();
        return behind == 0 ? Labels.of("inventory.everything") : Labels.of("inventory.left", behind);
    }

    void refresh() {
        branchText();
        if (listed == desk.now()) {
            return;
        }
        Asset asset = desk.now();
        Optional<List<Inventory.Item>> items = desk.facts().of("inventory", asset, w -> Inventory.of(asset));
        if (items.isEmpty()) {
            return;
        }
        listed = asset;
        all = items.get();
        Map<Inventory.Kind, Long> counts = all.stream()
                .collect(Collectors.groupingBy(Inventory.Item::kind, java.util.TreeMap::new, Collectors.counting()));
        String kinds = counts.entrySet().stream()
                .map(e -> Labels.of("count." + e.getKey().name().toLowerCase(Locale.ROOT), e.getValue()))
                .collect(Collectors.joining(", "));
        long behind = all.stream().filter(i -> !i.ships()).count();
        sums.setText(behind == 0 ? kinds + "." : Labels.of("inventory.behind", kinds, behind));
        filter();
    }

    private void branchText() {
        String joint = desk.selection().joint().get();
        branch.setText(
                joint.isEmpty()
                        ? Labels.of("inventory.branch")
                        : Labels.of("inventory.branch.of", Widgets.shortened(joint)));
        branch.setDisable(joint.isEmpty());
    }

    private void filter() {
        NamePattern pattern = new NamePattern(names.getText());
        MarkForExport.Kind wanted = kind.getValue();
        rows.setAll(all.stream()
                .filter(i -> wanted.takes(i, listed))
                .filter(i -> pattern.fits(i.ref()))
                .toList());
    }

    private MarkForExport step(boolean ships) throws StepRow.Unclear {
        if (names.getText().isBlank()) {
            throw new StepRow.Unclear("inventory.names.empty");
        }
        Optional<String> below = branch.isSelected() && !branch.isDisabled()
                ? Optional.of(desk.selection().joint().get())
                : Optional.empty();
        return new MarkForExport(kind.getValue(), names.getText().strip(), below, ships);
    }

    private void leave(List<Integer> nodes) {
        if (nodes.isEmpty()) {
            desk.jobs().message().set(Labels.of("inventory.all.seen"));
            return;
        }
        String refs = nodes.stream()
                .map(n -> NamePattern.exactly(desk.now().nodeRef(n)))
                .collect(Collectors.joining(", "));
        desk.apply(new MarkForExport(MarkForExport.Kind.PART, refs, Optional.empty(), false));
    }

    private void show(Inventory.Item item) {
        if (item == null) {
            return;
        }
        switch (item.kind()) {
            case PART -> {
                int mesh = desk.now().nodes().get(item.index()).mesh();
                desk.selection()
                        .choose(mesh, VertexChoice.all(desk.now().meshes().get(mesh)));
            }
            case CLIP -> desk.playback().clip().set(item.ref());
            default -> desk.selection().joint().set(item.ref());
        }
    }

    private static MarkForExport.Kind kindOf(Inventory.Item item) {
        return MarkForExport.Kind.valueOf(item.kind().name());
    }

    private final class Row extends ListCell<Inventory.Item> {
        private final CheckBox ships = new CheckBox();
        private final Label name = Widgets.name("");
        private final Label facts = new Label();
        private final HBox row = new HBox(6, ships, name, Widgets.spring(), facts);

        Row() {
            row.setAlignment(Pos.CENTER_LEFT);
            row.setPrefWidth(0);
            name.setMinWidth(20);
            facts.getStyleClass().add("ink-2");
            facts.setMinWidth(USE_PREF_SIZE);
            setGraphic(row);
            ships.setOnAction(e -> {
                Inventory.Item item = getItem();
                desk.apply(new MarkForExport(
                        kindOf(item), NamePattern.exactly(item.ref()), Optional.empty(), ships.isSelected()));
            });
        }

        @Override
        protected void updateItem(Inventory.Item item, boolean empty) {
            super.updateItem(item, empty);
            setText(null);
            row.setVisible(!empty && item != null);
            if (empty || item == null) {
                ships.setId(null);
                setAccessibleText("");
                return;
            }
            String kindKey = item.kind().name().toLowerCase(Locale.ROOT);
            ships.setSelected(item.ships());
            ships.setId("ships-" + item.ref());
            ships.setAccessibleText(Labels.of("inventory.ships", item.ref()));
            name.setText(item.ref());
            name.setOpacity(item.ships() ? 1 : 0.55);
            facts.setText(Labels.of("facts." + kindKey, item.triangles(), item.vertices(), item.movers()));
            setAccessibleText(Labels.of("inventory.row", Labels.of("kind." + kindKey), item.ref(), facts.getText()));
        }
    }
}
