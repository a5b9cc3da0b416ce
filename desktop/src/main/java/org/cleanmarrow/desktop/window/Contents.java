package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.TableView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.query.Movers;
import org.cleanmarrow.query.VertexChoice;

/** What the open station works on: the joints that move the selection, the joint tree, parts, clips, kept selections. */
final class Contents extends VBox {
    private static final double ROW = 24;
    private static final double MOVER = 36;
    private static final int SEEN_MOVERS = 4;
    private static final int SEEN_PARTS = 4;

    private final Desk desk;
    private final Stations stations;
    private final Map<StationDef.Piece, Region> pieces = new EnumMap<>(StationDef.Piece.class);
    private final VBox own = new VBox();
    private final Label moversCount = new Label();
    private final ListView<Movers.Mover> movers = new ListView<>();
    private final JointTree joints;
    private final TableView<PartRow> parts = new TableView<>();
    private final TableView<Clip> clips = new TableView<>();
    private final VBox named = new VBox(2);
    private List<Ledger.Choice> listedChoices = List.of();
    private List<Movers.Mover> listedMovers;
    private Asset listed;
    private Station shown;
    private boolean filling;

    /** A mesh of the asset. */
    private record PartRow(int mesh, String ref, int triangles) {}

    Contents(Desk desk, Stations stations) {
        this.desk = desk;
        this.stations = stations;
        joints = new JointTree(desk);
        getStyleClass().add("contents");
        movers.setId("movers");
        movers.setAccessibleText(Labels.of("contents.movers"));
        movers.setFixedCellSize(MOVER);
        fix(movers, SEEN_MOVERS * MOVER + 2);
        movers.setCellFactory(l -> new MoverCell());
        movers.setPlaceholder(hint("contents.movers.none"));
        movers.getSelectionModel().selectedItemProperty().addListener((o, a, mover) -> take(mover));
        parts.setId("parts");
        parts.setAccessibleText(Labels.of("contents.parts"));
        parts.setFixedCellSize(ROW);
        Tables.fill(
                parts,
                List.of(
                        Tables.text("contents.part", 100, PartRow::ref),
                        Tables.number(
                                "contents.triangles",
                                74,
                                PartRow::triangles,
                                n -> String.format(Locale.ROOT, "%,.0f", n))));
        parts.getSelectionModel().setSelectionMode(SelectionMode.SINGLE);
        parts.getSelectionModel().selectedItemProperty().addListener((o, a, row) -> {
            if (!filling && row != null && row.mesh < desk.now().meshes().size()) {
                desk.selection()
                        .choose(row.mesh, VertexChoice.all(desk.now().meshes().get(row.mesh)));
            }
        });
        clips.setId("clips");
        clips.setAccessibleText(Labels.of("contents.clips"));
        clips.setFixedCellSize(ROW);
        clips.setPlaceholder(hint("contents.clips.none"));
        Tables.fill(
                clips,
                List.of(
                        Tables.text("contents.clip", 80, Clip::name),
                        Tables.text("contents.frames", 62, c -> c.firstFrame() + ".." + c.lastFrame()),
                        Tables.text("contents.loop", 44, c -> c.loop() ? Labels.of("contents.loops") : "")));
        clips.getSelectionModel().selectedItemProperty().addListener((o, a, clip) -> {
            if (!filling && clip != null) {
                desk.playback().clip().set(clip.name());
                desk.playback().seconds().set(clip.start());
            }
        });
        pieces.put(StationDef.Piece.MOVERS, new VBox(4, Widgets.heading("contents.movers", moversCount), movers));
        pieces.put(StationDef.Piece.JOINTS, joints);
        pieces.put(StationDef.Piece.PARTS, new VBox(4, Widgets.heading("contents.parts"), parts));
        pieces.put(StationDef.Piece.CLIPS, new VBox(4, Widgets.heading("contents.clips"), clips));
        pieces.put(StationDef.Piece.NAMED, named);
        pieces.put(StationDef.Piece.OWN, own);
        desk.onAnyChange(this::refresh);
        refresh();
    }

    private static Label hint(String key) {
        Label label = Widgets.sentence(Labels.of(key));
        label.getStyleClass().add("ink-2");
        return label;
    }

    private static void fix(Region region, double height) {
        region.setMinHeight(height);
        region.setPrefHeight(height);
        region.setMaxHeight(height);
    }

    private void refresh() {
        StationDef station = stations.of(desk.station().get());
        if (shown != station.station()) {
            show(station);
        }
        setDisable(!desk.isOpen());
        // What was closed is no longer there to be seen.
        getChildren().forEach(piece -> piece.setVisible(desk.isOpen()));
        if (!desk.isOpen()) {
            listed = null;
            return;
        }
        station.refresh();
        joints.refresh();
        refreshMovers();
        if (listedChoices != desk.history().ledger().choices()) {
            refreshNamed();
        }
        filling = true;
        if (listed != desk.now()) {
            listed = desk.now();
            List<PartRow> rows = new ArrayList<>();
            for (int m = 0; m < listed.meshes().size(); m++) {
                rows.add(
                        new PartRow(m, listed.meshRef(m), listed.meshes().get(m).triangleCount()));
            }
            if (!rows.equals(parts.getItems())) {
                parts.getItems().setAll(rows);
            }
            if (!listed.clips().equals(clips.getItems())) {
                clips.getItems().setAll(listed.clips());
            }
        }
        selectPart();
        selectClip();
        filling = false;
    }

    /** One piece takes what height is left: the station's own list, or the joints, or the first there is. */
    private void show(StationDef station) {
        shown = station.station();
        own.getChildren().setAll(station.own().stream().toList());
        own.getChildren().forEach(n -> VBox.setVgrow(n, Priority.ALWAYS));
        List<Node> nodes = new ArrayList<>();
        List<StationDef.Piece> wanted = station.contents();
        StationDef.Piece tall = wanted.contains(StationDef.Piece.OWN)
                ? StationDef.Piece.OWN
                : wanted.contains(StationDef.Piece.JOINTS) ? StationDef.Piece.JOINTS : wanted.getFirst();
        boolean partsAreTall = tall == StationDef.Piece.PARTS;
        boolean clipsAreTall = tall == StationDef.Piece.CLIPS;
        size(parts, partsAreTall, ROW * (SEEN_PARTS + 1) + 4);
        size(clips, clipsAreTall, ROW * 7 + 4);
        for (StationDef.Piece piece : wanted) {
            Region region = pieces.get(piece);
            VBox.setVgrow(region, piece == tall ? Priority.ALWAYS : Priority.NEVER);
            nodes.add(region);
        }
        getChildren().setAll(nodes);
        // Once the pieces have their new heights.
        Platform.runLater(joints::reveal);
    }

    private static void size(Region table, boolean tall, double height) {
        table.setMinHeight(tall ? 80 : height);
        table.setPrefHeight(height);
        table.setMaxHeight(tall ? Double.MAX_VALUE : height);
        VBox.setVgrow(table, tall ? Priority.ALWAYS : Priority.NEVER);
    }

    private void selectPart() {
        int mesh = desk.selection().chosen().get().mesh();
        int row = -1;
        for (int i = 0; i < parts.getItems().size(); i++) {
            row = parts.getItems().get(i).mesh == mesh ? i : row;
        }
        select(parts.getSelectionModel(), row);
    }

    private void selectClip() {
        int row = -1;
        for (int i = 0; i < clips.getItems().size(); i++) {
            row = clips.getItems().get(i).name().equals(desk.playback().clip().get()) ? i : row;
        }
        select(clips.getSelectionModel(), row);
    }

    private static void select(javafx.scene.control.SelectionModel<?> model, int row) {
        if (model.getSelectedIndex() == row) {
            return;
        }
        if (row < 0) {
            model.clearSelection();
        } else {
            model.clearAndSelect(row);
        }
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

    private void refreshMovers() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        Asset asset = desk.now();
        List<Movers.Mover> found = chosen.isEmpty()
                ? List.of()
                : desk.facts()
                        .of("movers", chosen, asset, w -> Movers.of(asset, chosen.mesh(), chosen.vertices()))
                        .orElse(listedMovers == null ? List.of() : listedMovers);
        moversCount.setText(
                chosen.isEmpty()
                        ? ""
                        : String.format(Locale.ROOT, "%,d", chosen.vertices().cardinality()));
        filling = true;
        if (found != listedMovers) {
            listedMovers = found;
            movers.getItems().setAll(found);
        }
        int row = -1;
        for (int i = 0; i < movers.getItems().size(); i++) {
            row = movers.getItems().get(i).node() == desk.selection().jointNode() ? i : row;
        }
        select(movers.getSelectionModel(), row);
        filling = false;
    }

    private void take(Movers.Mover mover) {
        if (!filling && mover != null && mover.node() < desk.now().nodes().size()) {
            desk.selection().joint().set(desk.now().nodeRef(mover.node()));
            desk.seeing().paint().set(ShadingMode.INFLUENCE);
        }
    }

    private final class MoverCell extends ListCell<Movers.Mover> {
        private final Label name = Widgets.name("");
        private final Label value = new Label();
        private final Region bar = new Region();
        private final VBox box = new VBox(2, new HBox(6, name, Widgets.spring(), value), bar);

        MoverCell() {
            name.setMinWidth(20);
            value.setMinWidth(USE_PREF_SIZE);
            bar.getStyleClass().add("weight-bar");
            box.setPrefWidth(0);
            setGraphic(box);
        }

        @Override
        protected void updateItem(Movers.Mover item, boolean empty) {
            super.updateItem(item, empty);
            setText(null);
            boolean there = !empty
                    && item != null
                    && desk.isOpen()
                    && item.node() < desk.now().nodes().size();
            box.setVisible(there);
            if (!there) {
                setAccessibleText("");
                setId(null);
                return;
            }
            String ref = desk.now().nodeRef(item.node());
            name.setText(ref);
            value.setText(String.format(Locale.ROOT, "%.2f", item.mean()));
            bar.setMaxWidth(Math.max(3, item.mean() * 170));
            setId("mover-" + ref);
            setAccessibleText(Labels.of("contents.mover.accessible", ref, value.getText()));
        }
    }
}
