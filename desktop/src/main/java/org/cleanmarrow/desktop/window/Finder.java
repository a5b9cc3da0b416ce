package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.query.VertexChoice;

/** One field that finds acts, findings, joints, parts, clips and named choices. */
final class Finder extends TextField {
    private static final int MOST = 40;
    private static final double ROW = 26;

    private final Desk desk;
    private final Layer layer;
    private Commands acts;
    private StationColumn column;
    private final ListView<Entry> list = new ListView<>();
    private final VBox sheet = new VBox(list);

    /** One thing found. */
    private record Entry(String name, String kind, String keys, Runnable run) {}

    Finder(Desk desk, Layer layer) {
        this.desk = desk;
        this.layer = layer;
        setId("find");
        setPromptText(Labels.of("find.prompt"));
        setAccessibleText(Labels.of("find.accessible"));
        setPrefColumnCount(19);
        list.setId("found");
        list.setFixedCellSize(ROW);
        list.setFocusTraversable(false);
        list.setCellFactory(l -> new Cell());
        list.setOnMouseClicked(e -> take());
        sheet.getStyleClass().add("found");
        sheet.setMaxSize(470, VBox.USE_PREF_SIZE);
        textProperty().addListener((o, a, b) -> search());
        focusedProperty().addListener((o, a, on) -> {
            if (!on && layer.isShowing(sheet)) {
                layer.hide();
            }
        });
        setOnMouseClicked(e -> open());
        addEventFilter(KeyEvent.KEY_PRESSED, this::key);
    }

    void setActs(Commands known) {
        acts = known;
    }

    void setStations(StationColumn known) {
        column = known;
    }

    /** Takes the keyboard and lists everything until something is typed. */
    void open() {
        requestFocus();
        search();
    }

    private void key(KeyEvent e) {
        int at = list.getSelectionModel().getSelectedIndex();
        if (e.getCode() == KeyCode.DOWN || e.getCode() == KeyCode.UP) {
            int next = Math.clamp(
                    at + (e.getCode() == KeyCode.DOWN ? 1L : -1L),
                    0,
                    Math.max(0, list.getItems().size() - 1));
            list.getSelectionModel().clearAndSelect(next);
            list.scrollTo(Math.max(0, next - 5));
        } else if (e.getCode() == KeyCode.ENTER) {
            take();
        } else if (e.getCode() == KeyCode.ESCAPE) {
            leave();
        } else {
            return;
        }
        e.consume();
    }

    private void take() {
        Entry entry = list.getSelectionModel().getSelectedItem();
        leave();
        if (entry != null) {
            entry.run.run();
        }
    }

    private void leave() {
        setText("");
        layer.hide();
        getScene().getRoot().lookup("#viewport").requestFocus();
    }

    private void search() {
        if (!isFocused()) {
            return;
        }
        String wanted = getText().strip().toLowerCase(Locale.ROOT);
        List<Entry> found = entries().stream()
                .filter(e -> rank(e.name, wanted) < 3)
                .sorted(Comparator.comparingInt(e -> rank(e.name, wanted)))
                .limit(MOST)
                .toList();
        list.getItems().setAll(found);
        list.setPlaceholder(new Label(Labels.of("find.nothing")));
        list.setPrefHeight(Math.clamp(found.size(), 2, 14) * ROW + 4);
        list.getSelectionModel().clearAndSelect(0);
        if (!layer.isShowing(sheet)) {
            layer.show(sheet, Pos.TOP_CENTER, new Insets(42, 0, 0, 0));
        }
    }

    /** 0: starts so, 1: a word starts so, 2: holds it, 3: does not. */
    private static int rank(String name, String wanted) {
        String lower = name.toLowerCase(Locale.ROOT);
        int at = lower.indexOf(wanted);
        if (at <= 0) {
            return at < 0 ? 3 : 0;
        }
        return Character.isLetterOrDigit(lower.charAt(at - 1)) ? 2 : 1;
    }

    private List<Entry> entries() {
        List<Entry> out = new ArrayList<>();
        for (Command act : acts.all()) {
            if (act.can().getAsBoolean()) {
                out.add(new Entry(act.name(), Labels.of("find.act"), acts.said(act), act.run()));
            }
        }
        if (!desk.isOpen()) {
            return out;
        }
        for (Act act : column.all()) {
            out.add(new Entry(act.name(), Labels.of("find.act"), "", () -> column.reveal(act)));
        }
        for (Finding finding : desk.findings()) {
            out.add(new Entry(desk.outcomes().words(finding.message()), Labels.of("find.finding"), "", () -> {
                desk.station().set(finding.station());
                desk.show(finding);
            }));
        }
        Asset asset = desk.now();
        desk.history()
                .ledger()
                .choices()
                .forEach(choice -> out.add(
                        new Entry(choice.name(), Labels.of("find.choice"), "", () -> desk.chooseNamed(choice))));
        boolean[] joint = asset.jointFlags();
        String[] refs = asset.nodeRefs();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                String ref = refs[n];
                out.add(new Entry(
                        ref,
                        Labels.of("find.joint"),
                        "",
                        () -> desk.selection().joint().set(ref)));
            }
        }
        for (int m = 0; m < asset.meshes().size(); m++) {
            int mesh = m;
            out.add(new Entry(
                    asset.meshRef(m),
                    Labels.of("find.part"),
                    "",
                    () -> desk.selection()
                            .choose(mesh, VertexChoice.all(asset.meshes().get(mesh)))));
        }
        for (Clip clip : asset.clips()) {
            out.add(new Entry(clip.name(), Labels.of("find.clip"), "", () -> {
                desk.playback().clip().set(clip.name());
                desk.playback().seconds().set(clip.start());
            }));
        }
        return out;
    }

    private static final class Cell extends ListCell<Entry> {
        private final Label name = new Label();
        private final Label kind = new Label();
        private final Label keys = new Label();
        private final HBox row = new HBox(10, name, Widgets.spring(), keys, kind);

        Cell() {
            row.setAlignment(Pos.CENTER_LEFT);
            row.setPrefWidth(0);
            name.setMinWidth(40);
            kind.getStyleClass().add("ink-2");
            kind.setMinWidth(58);
            kind.setAlignment(Pos.CENTER_RIGHT);
            keys.getStyleClass().add("keys");
            keys.setMinWidth(USE_PREF_SIZE);
        }

        @Override
        protected void updateItem(Entry entry, boolean empty) {
            super.updateItem(entry, empty);
            if (empty || entry == null) {
                setGraphic(null);
                return;
            }
            name.setText(entry.name);
            kind.setText(entry.kind);
            keys.setText(entry.keys);
            keys.setVisible(!entry.keys.isEmpty());
            setGraphic(row);
            setAccessibleText(entry.kind + ": " + entry.name);
        }
    }
}
