package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.DeskFiles;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.ledger.Newer;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.text.Message;

/**
 * What a newer version of the source would mean, before it is taken: how it differs, which steps still fit and why others do not, and
 * what to do about those: call things by their new names, or switch the steps off.
 */
final class NewerSheet extends VBox {
    private static final int MOST_NAMED = 6;

    private final Desk desk;
    private final DeskFiles.Tried tried;
    private final CheckBox renamed = new CheckBox();
    private final CheckBox off = new CheckBox(Labels.of("newer.off"));
    private final Label fit = Widgets.sentence("");
    private final ListView<Row> steps = new ListView<>();

    private record Row(String name, String said, boolean lost) {}

    private NewerSheet(Desk desk, Layer layer, DeskFiles.Tried tried) {
        super(6);
        this.desk = desk;
        this.tried = tried;
        Newer newer = tried.newer();
        setId("newer-sheet");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(560, VBox.USE_PREF_SIZE);
        Label title = new Label(Labels.of("newer.title", tried.name()));
        title.getStyleClass().add("title");
        Label counts = Widgets.sentence(counts(desk.received(), newer.source()));
        counts.setId("newer-counts");
        getChildren().addAll(title, counts);
        String differs = differences(newer);
        Label differing = Widgets.sentence(differs);
        differing.setId("newer-differs");
        getChildren().add(differing);
        newer.renamed().ifPresent(r -> {
            renamed.setId("newer-renamed");
            renamed.setText(Labels.of(
                    "newer.renamed",
                    r.names().names().entrySet().stream()
                            .limit(MOST_NAMED)
                            .map(e -> e.getKey() + " → " + e.getValue())
                            .collect(Collectors.joining(", ")),
                    r.names().names().size()));
            renamed.setMnemonicParsing(false);
            renamed.setWrapText(true);
            renamed.setMinHeight(USE_PREF_SIZE);
            renamed.setSelected(true);
            renamed.setOnAction(e -> show());
            getChildren().add(renamed);
        });
        off.setId("newer-off");
        fit.setId("newer-fit");
        steps.setId("newer-steps");
        steps.setAccessibleText(Labels.of("newer.steps"));
        steps.setFixedCellSize(24);
        steps.setPrefHeight(8 * 24 + 4);
        steps.setCellFactory(list -> new StepCell());
        HBox buttons = new HBox(
                8,
                Widgets.spring(),
                Widgets.button("newer-leave", "newer.leave", () -> {
                    desk.sourceWatch().dismiss();
                    layer.hide();
                }),
                Widgets.mainButton("newer-take", "newer.take", () -> {
                    layer.hide();
                    tried.take(off.isSelected() ? chosen().withoutLost() : chosen());
                }));
        getChildren().addAll(fit, steps, off, buttons);
        show();
        addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.ESCAPE) {
                layer.hide();
                e.consume();
            }
        });
    }

    /** Reads the newer version, and opens the sheet when that is done. */
    static void open(Desk desk, Layer layer) {
        desk.files().tryNewer(tried -> {
            NewerSheet sheet = new NewerSheet(desk, layer, tried);
            layer.show(sheet, Pos.TOP_CENTER, new Insets(52, 0, 0, 0));
            sheet.requestFocus();
        });
    }

    private Newer.Replayed chosen() {
        return tried.newer()
                .renamed()
                .filter(r -> renamed.isSelected())
                .map(Newer.Renamed::replayed)
                .orElse(tried.newer().plain());
    }

    private static String counts(Asset before, Asset now) {
        return Labels.of(
                "newer.counts",
                before.meshes().size(),
                now.meshes().size(),
                vertices(before),
                vertices(now),
                before.nodes().size(),
                now.nodes().size(),
                before.clips().size(),
                now.clips().size());
    }

    private static long vertices(Asset asset) {
        return asset.meshes().stream().mapToLong(Mesh::vertexCount).sum();
    }

    private String differences(Newer newer) {
        List<String> out = new ArrayList<>();
        if (!newer.gone().isEmpty()) {
            out.add(Labels.of("newer.gone", some(newer.gone())));
        }
        if (!newer.come().isEmpty()) {
            out.add(Labels.of("newer.come", some(newer.come())));
        }
        double moved = newer.motion().largestMetres();
        if (Double.isFinite(moved)) {
            out.add(
                    moved > newer.motion().toleranceMetres()
                            ? Labels.of("newer.moved", desk.outcomes().length(moved))
                            : Labels.of("newer.still"));
        }
        return String.join(" ", out);
    }

    private String some(List<Message> messages) {
        return messages.stream().map(m -> desk.outcomes().words(m)).collect(Collectors.joining("; "));
    }

    private void show() {
        Newer.Replayed replayed = chosen();
        List<Row> rows = new ArrayList<>();
        for (int i = 0; i < replayed.done().size(); i++) {
            Replay.Done done = replayed.done().get(i);
            boolean on = replayed.ledger().entries().get(i).on();
            rows.add(new Row(
                    Outcomes.name(done),
                    !on
                            ? Labels.of("newer.is.off")
                            : done.refusal()
                                    .map(m -> desk.outcomes().words(m))
                                    .orElseGet(() -> done.motion()
                                            .map(m -> desk.outcomes().length(m.largestMetres()))
                                            .orElse("")),
                    replayed.isLost(i)));
        }
        // What needs a look comes first.
        rows.sort((a, b) -> Boolean.compare(b.lost, a.lost));
        steps.getItems().setAll(rows);
        fit.setText(Labels.of("newer.fit", rows.size() - replayed.lost(), rows.size()));
        off.setDisable(replayed.lost() == 0);
    }

    private static final class StepCell extends ListCell<Row> {
        private final Label name = new Label();
        private final Label said = new Label();
        private final HBox line = new HBox(8, name, said);

        StepCell() {
            name.setMinWidth(USE_PREF_SIZE);
            said.getStyleClass().add("ink-2");
            said.setMaxWidth(Double.MAX_VALUE);
            HBox.setHgrow(said, Priority.ALWAYS);
            line.setAlignment(Pos.CENTER_LEFT);
            line.setPrefWidth(0);
        }

        @Override
        protected void updateItem(Row row, boolean empty) {
            super.updateItem(row, empty);
            setGraphic(empty ? null : line);
            if (!empty) {
                name.setText(row.name);
                name.getStyleClass().remove("trouble");
                if (row.lost) {
                    name.getStyleClass().add("trouble");
                }
                said.setText(row.said);
                setAccessibleText(row.name + ": " + row.said);
            }
        }
    }
}
