package org.cleanmarrow.desktop.station.intake;

import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.steps.intake.OrderVertices;

/** Vertices put back into the order of a template, and which of it were not found. */
final class OrderSection extends VBox {
    private final Desk desk;
    private final VBox meshes = new VBox(4);
    private List<Replay.Done> listed = List.of();

    OrderSection(Desk desk, FileDialogs dialogs) {
        super(6);
        this.desk = desk;
        meshes.setId("order-meshes");
        getChildren()
                .addAll(
                        Widgets.sentence(Labels.of("order.why")),
                        Widgets.row(Widgets.button(
                                "order-from",
                                "order.from",
                                () -> dialogs.like("dialog.template", desk.files()::orderFrom))),
                        meshes);
    }

    /** Lists the meshes that were put in order, each with those of its template that were not found. */
    void refresh() {
        List<Replay.Done> ordered = new ArrayList<>();
        for (Replay.Done done : desk.history().done()) {
            if (done.step() instanceof OrderVertices && done.outcome().isPresent()) {
                ordered.add(done);
            }
        }
        if (ordered.equals(listed)) {
            return;
        }
        listed = List.copyOf(ordered);
        meshes.getChildren().clear();
        for (Replay.Done done : ordered) {
            OrderVertices step = (OrderVertices) done.step();
            var notes = done.outcome().orElseThrow().notes();
            String said =
                    notes.isEmpty() ? Labels.of("order.all") : desk.outcomes().words(notes.getFirst());
            Button show = Widgets.button(
                    "order-show", "order.show", () -> desk.files().notFound(done));
            show.setDisable(notes.isEmpty());
            show.setAccessibleText(Labels.of("order.show.of", step.mesh()));
            show.setMinWidth(USE_PREF_SIZE);
            HBox row = new HBox(6, Widgets.sentence(Labels.of("order.row", step.mesh(), said)), Widgets.spring(), show);
            row.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
            meshes.getChildren().add(row);
        }
    }

    /** How many meshes were put in order. */
    String fact() {
        long many = desk.history().done().stream()
                .filter(d -> d.step() instanceof OrderVertices)
                .count();
        return many == 0 ? "" : Labels.of("order.fact", many);
    }
}
