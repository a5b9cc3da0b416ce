package org.cleanmarrow.desktop.window;

import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import javafx.beans.property.ReadOnlyBooleanProperty;
import javafx.beans.property.ReadOnlyBooleanWrapper;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Examiner;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.ledger.MendPlan;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;

/** The fixes of a station in the order in which they fit, with what each would move; done as one, undone as one. */
final class MendAll extends VBox {
    private final Desk desk;
    private final Label what = Widgets.sentence("");
    private final ListView<String> rows = new ListView<>();
    private final Label left = Widgets.sentence("");
    private final ReadOnlyBooleanWrapper busy = new ReadOnlyBooleanWrapper();
    private MendPlan plan;
    private Asset plannedFor;

    MendAll(Desk desk) {
        super(4);
        this.desk = desk;
        getStyleClass().add("mend");
        rows.setId("mend-plan");
        rows.setFixedCellSize(22);
        rows.setPrefHeight(6 * 22 + 4);
        rows.setMinHeight(6 * 22 + 4);
        setMinHeight(USE_PREF_SIZE);
        rows.setAccessibleText(Labels.of("mend.plan"));
        left.getStyleClass().add("ink-2");
        left.setId("mend-left");
        what.setId("mend-what");
        FlowPane buttons = Widgets.row(
                Widgets.button("mend-close", "mend.close", this::close),
                Widgets.mainButton("mend-do", "mend.do", this::mend));
        buttons.setAlignment(Pos.CENTER_RIGHT);
        getChildren().addAll(what, rows, left, buttons);
        setVisible(false);
        setManaged(false);
        desk.station().addListener((o, a, b) -> close());
        desk.asset().addListener((o, a, b) -> close());
    }

    ReadOnlyBooleanProperty busyProperty() {
        return busy.getReadOnlyProperty();
    }

    private void close() {
        setVisible(false);
        setManaged(false);
    }

    /** Finds the plan for the open station; for all stations at the last. */
    void propose() {
        Asset asset = desk.now();
        Target target = desk.target().get();
        Station station = desk.station().get();
        Optional<Station> only = station == Station.DELIVERY ? Optional.empty() : Optional.of(station);
        busy.set(true);
        desk.jobs()
                .find(
                        w -> MendPlan.of(asset, only, (a, work) -> Examiner.findings(a, target, work), w),
                        found -> {
                            if (asset == desk.now() && station == desk.station().get()) {
                                show(found, asset);
                            }
                        },
                        () -> busy.set(false));
    }

    private void show(MendPlan found, Asset asset) {
        plan = found;
        plannedFor = asset;
        what.setText(Labels.of("mend.what", found.done().size(), found.before()));
        rows.getItems().setAll(found.done().stream().map(this::row).toList());
        List<String> kept = found.left().stream()
                .map(f -> desk.outcomes().words(f.message()))
                .toList();
        left.setText(
                kept.isEmpty()
                        ? Labels.of("mend.left.none")
                        : Labels.of(
                                "mend.left", kept.size(), kept.stream().limit(3).collect(Collectors.joining("; "))));
        setVisible(true);
        setManaged(true);
    }

    private String row(Replay.Done done) {
        return Labels.of(
                "mend.row",
                Outcomes.name(done),
                done.motion()
                        .map(m -> desk.outcomes().length(m.largestMetres()))
                        .orElse("–"));
    }

    private void mend() {
        if (plan != null && plannedFor == desk.now()) {
            close();
            desk.applyAsOne(plan.done());
        }
    }
}
