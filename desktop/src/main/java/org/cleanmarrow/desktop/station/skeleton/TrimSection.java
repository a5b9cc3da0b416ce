package org.cleanmarrow.desktop.station.skeleton;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javafx.scene.control.Label;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skeleton.TrimIdle;

/** Joints that move nothing: at the ends of chains, or anywhere, with a table of what goes, what stays, and why. */
final class TrimSection extends VBox {
    private final Desk desk;
    private final Label ends = Widgets.twoLines("trim-what");
    private final TextField keep = new TextField();
    private final TableView<TrimIdle.Row> table = new TableView<>();
    private Asset listed;
    private List<TrimIdle.Row> rows = List.of();

    TrimSection(Desk desk) {
        super(6);
        this.desk = desk;
        keep.setId("trim-keep");
        keep.setPromptText(Labels.of("trim.keep"));
        keep.setAccessibleText(Labels.of("trim.keep"));
        keep.textProperty().addListener((o, a, b) -> {
            listed = null;
            refresh();
        });
        table.setId("trim-table");
        table.setAccessibleText(Labels.of("trim.table"));
        table.setFixedCellSize(22);
        table.setPrefHeight(22 * 7 + 4);
        Tables.fill(
                table,
                List.of(
                        Tables.text(
                                "trim.joint",
                                130,
                                r -> listed.nodes().get(r.node()).name()),
                        Tables.text("trim.verdict", 140, TrimSection::verdict)));
        table.getSelectionModel().selectedItemProperty().addListener((o, a, row) -> {
            if (row != null && listed == desk.now()) {
                desk.selection().joint().set(listed.nodeRef(row.node()));
            }
        });
        StepRow acts = new StepRow(desk, "trim-preview")
                .also("trim-ends", "skeleton.ends.act", TrimEnds::new)
                .also(
                        "trim-idle",
                        "trim.idle",
                        () -> new TrimIdle(keep.getText().strip()));
        getChildren().addAll(ends, table, keep, acts);
    }

    private int idle() {
        Asset asset = desk.now();
        return desk.facts()
                .of("idle ends", asset, w -> Skeletons.idleEnds(asset).cardinality())
                .orElse(0);
    }

    /** How many end joints move nothing, in a word. */
    String fact() {
        return Labels.of("trim.fact", idle());
    }

    void refresh() {
        if (!desk.isOpen() || listed == desk.now()) {
            return;
        }
        Asset asset = desk.now();
        TrimIdle step = new TrimIdle(keep.getText().strip());
        Optional<List<TrimIdle.Row>> plan = desk.facts()
                .of(
                        "trim",
                        asset,
                        step.keep(),
                        w -> step.plan(asset).stream()
                                .filter(r -> r.why() != TrimIdle.Why.BEARS)
                                .toList());
        if (plan.isEmpty()) {
            return;
        }
        listed = asset;
        rows = plan.get();
        int idle = idle();
        long going = rows.stream().filter(TrimIdle.Row::goes).count();
        ends.setText(Labels.of("trim.what", idle, going));
        table.getItems().setAll(rows);
    }

    private static String verdict(TrimIdle.Row row) {
        return Labels.of(
                row.goes() ? "trim.goes" : "trim." + row.why().name().toLowerCase(Locale.ROOT),
                String.format(Locale.ROOT, "%.3g", row.shear()));
    }
}
