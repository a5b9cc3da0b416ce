package org.cleanmarrow.desktop.station.skin;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.skin.Cover;
import org.cleanmarrow.steps.skin.MendPokeThrough;

/** Where a body shows through what it wears, the deepest first, each shown by a click, and what helps. */
final class ThroughSection extends VBox {
    private static final int FRAMES = 8;
    private static final int MOST_SHOWN = 200;

    private final Desk desk;
    private final ViewportPane viewport;
    private final Label what = Widgets.sentence(Labels.of("through.why"));
    private final TableView<Row> found = new TableView<>();
    private final ComboBox<MendPokeThrough.Way> way = new ComboBox<>();
    private final TextField most = new TextField("10");
    private Asset looked;
    private boolean known;

    /** One moment of one pair. */
    private record Row(PokeThrough pair, PokeThrough.Moment moment, String body, String worn, String when) {}

    ThroughSection(Desk desk, ViewportPane viewport) {
        super(6);
        this.viewport = viewport;
        this.desk = desk;
        what.setId("through-what");
        found.setId("through");
        found.setFixedCellSize(22);
        found.setPrefHeight(7 * 22 + 4);
        found.setAccessibleText(Labels.of("through.list"));
        Tables.fill(
                found,
                List.of(
                        Tables.number(
                                "through.column.depth",
                                50,
                                r -> r.moment.deepest() * 1000,
                                d -> String.format(Locale.ROOT, "%.1f", d)),
                        Tables.text("through.column.when", 92, Row::when),
                        Tables.text("through.column.body", 62, Row::body),
                        Tables.text("through.column.worn", 76, Row::worn),
                        Tables.number(
                                "through.column.vertices",
                                44,
                                r -> r.moment.vertices().cardinality(),
                                d -> String.format(Locale.ROOT, "%.0f", d))));
        found.getSelectionModel().selectedItemProperty().addListener((o, a, b) -> show(b));
        way.setId("through-way");
        way.getItems().setAll(MendPokeThrough.Way.values());
        way.setValue(MendPokeThrough.Way.BODY);
        way.setAccessibleText(Labels.of("through.way"));
        way.setConverter(Widgets.shown(w -> Labels.of("through.way." + w.name().toLowerCase(Locale.ROOT))));
        most.setId("through-most");
        most.setPrefColumnCount(4);
        most.setAccessibleText(Labels.of("through.most"));
        HBox limit = new HBox(6, way, new Label(Labels.of("through.most")), most, new Label("mm"));
        limit.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        getChildren()
                .addAll(
                        what,
                        Widgets.row(Widgets.button("through-look", "through.look", this::look)),
                        found,
                        limit,
                        new StepRow(desk, "through-preview")
                                .also("through-cover", "through.cover", this::cover)
                                .main("through-mend", "through.mend", this::mend));
    }

    /** The deepest that was found, in a word. */
    String fact() {
        return !known
                ? ""
                : found.getItems().isEmpty()
                        ? Labels.of("through.fact.none")
                        : desk.outcomes()
                                .length(found.getItems().getFirst().moment.deepest());
    }

    /** What was found is found anew where it is shown. */
    void refresh() {
        if (known && looked != desk.now()) {
            look();
        }
    }

    private void look() {
        Asset asset = desk.now();
        looked = asset;
        what.setText(Labels.of("through.looking"));
        desk.jobs().study(w -> PokeThrough.all(asset, FRAMES, w), all -> {
            if (asset == desk.now()) {
                list(asset, all);
            }
        });
    }

    private void list(Asset asset, List<PokeThrough> all) {
        List<Row> rows = new ArrayList<>();
        for (PokeThrough pair : all) {
            for (PokeThrough.Moment moment : pair.moments()) {
                rows.add(new Row(
                        pair, moment, asset.meshRef(pair.body()), asset.meshRef(pair.worn()), when(asset, moment)));
            }
        }
        rows.sort((a, b) -> Double.compare(b.moment.deepest(), a.moment.deepest()));
        known = true;
        found.getSelectionModel().clearSelection();
        found.getItems().setAll(rows.subList(0, Math.min(MOST_SHOWN, rows.size())));
        what.setText(
                rows.isEmpty()
                        ? Labels.of("through.none")
                        : Labels.of(
                                "through.said",
                                rows.size(),
                                all.stream().mapToInt(PokeThrough::looked).sum(),
                                rows.getFirst().body,
                                rows.getFirst().worn,
                                desk.outcomes().length(rows.getFirst().moment.deepest()),
                                rows.getFirst().when));
    }

    private static String when(Asset asset, PokeThrough.Moment moment) {
        if (moment.clip() < 0) {
            return moment.pose().map(p -> p.name()).orElse(Labels.of("through.rest"));
        }
        Clip clip = asset.clips().get(moment.clip());
        return Labels.of("through.frame", clip.name(), Math.round(moment.seconds() * clip.rate()));
    }

    private void show(Row row) {
        Asset now = desk.now();
        if (row == null || row.pair.body() >= now.meshes().size() || now != looked) {
            return;
        }
        if (row.moment.clip() >= 0) {
            desk.playback().hold(null);
            desk.playback().clip().set(now.clips().get(row.moment.clip()).name());
            desk.playback().seconds().set(row.moment.seconds());
        } else {
            desk.playback().hold(row.moment.pose().orElse(null));
        }
        desk.selection().choose(row.pair.body(), (BitSet) row.moment.vertices().clone());
        viewport.showChoice();
    }

    /** The pair of the chosen moment, of the deepest where none is chosen. */
    private Row chosen() throws StepRow.Unclear {
        Row row = found.getSelectionModel().getSelectedItem();
        if (row == null && found.getItems().isEmpty()) {
            throw new StepRow.Unclear("through.look.first");
        }
        return row == null ? found.getItems().getFirst() : row;
    }

    private Cover cover() throws StepRow.Unclear {
        Row row = chosen();
        return new Cover(row.body, row.worn);
    }

    private MendPokeThrough mend() throws StepRow.Unclear {
        Row row = chosen();
        try {
            double limit = Double.parseDouble(most.getText().strip().replace(',', '.'));
            if (limit > 0 && limit <= 1000) {
                return new MendPokeThrough(row.body, row.worn, way.getValue(), limit, FRAMES);
            }
        } catch (NumberFormatException e) {
            // Said below.
        }
        throw new StepRow.Unclear("through.most.bad");
    }
}
