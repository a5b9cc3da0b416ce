package org.cleanmarrow.desktop.window;

import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.StepCodec;

/** Five steps on the ferry pilot, in the real interface. A step that asks for an act goes on once it is done. */
final class Tour extends VBox {
    /** @param done whether what the step asks for has been done; always false where it only tells */
    private record Stop(String key, Station station, Runnable enter, BooleanSupplier done) {}

    private final Desk desk;
    private final Layer layer;
    private final List<Stop> stops;
    private final Label heading = new Label();
    private final Label text = Widgets.sentence("");
    private final Button back;
    private final Button next;
    private int at;

    Tour(Desk desk, Layer layer) {
        super(8);
        this.desk = desk;
        this.layer = layer;
        setId("tour");
        getStyleClass().addAll("sheet", "raised", "tour");
        setMaxSize(330, VBox.USE_PREF_SIZE);
        heading.getStyleClass().add("heading");
        back = Widgets.button("tour-back", "tour.back", () -> go(at - 1));
        next = Widgets.mainButton("tour-next", "tour.next", () -> go(at + 1));
        Button end = Widgets.button("tour-end", "tour.end", this::close);
        end.getStyleClass().add("quiet");
        HBox buttons = new HBox(8, back, next, Widgets.spring(), end);
        buttons.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(heading, text, buttons);
        stops = List.of(
                new Stop("spine", Station.INTAKE, () -> {}, () -> false),
                new Stop("leak", Station.SKIN, this::showLeak, () -> false),
                new Stop("takeoff", Station.SKIN, () -> {}, () -> has("remove-influence")),
                new Stop("convert", Station.SCALE_AND_AXES, () -> {}, () -> has("convert")),
                new Stop(
                        "deliver",
                        Station.DELIVERY,
                        () -> {},
                        () -> desk.lastDelivery().isPresent()));
        desk.piece().addListener((o, a, b) -> goOnWhenDone());
    }

    void open() {
        if (!desk.demo().equals(Optional.of(Demo.pilot()))) {
            desk.files().openDemo();
        }
        if (!layer.getChildren().contains(this)) {
            // Over the view, clear of the contents and of the ledger.
            StackPane.setAlignment(this, Pos.BOTTOM_LEFT);
            StackPane.setMargin(this, new Insets(0, 0, 146, 326));
            layer.getChildren().add(this);
        }
        go(0);
    }

    private void close() {
        layer.getChildren().remove(this);
    }

    private boolean has(String step) {
        return desk.isOpen()
                && desk.history().done().stream()
                        .anyMatch(
                                d -> StepCodec.info(d.step().getClass()).name().equals(step));
    }

    private void showLeak() {
        if (desk.isOpen()) {
            desk.findings().stream()
                    .filter((Finding f) -> f.check().equals("leak"))
                    .findFirst()
                    .ifPresent(desk::show);
        }
    }

    private void goOnWhenDone() {
        boolean waits = layer.getChildren().contains(this) && at < stops.size() - 1;
        if (waits && stops.get(at).done.getAsBoolean()) {
            go(at + 1);
        }
    }

    private void go(int to) {
        if (to >= stops.size()) {
            close();
            return;
        }
        at = Math.max(0, to);
        Stop stop = stops.get(at);
        desk.station().set(stop.station);
        stop.enter.run();
        heading.setText(Labels.of("tour.heading", at + 1, stops.size()));
        text.setText(Labels.of("tour." + stop.key));
        back.setDisable(at == 0);
        next.setText(Labels.of(at == stops.size() - 1 ? "tour.done" : "tour.next"));
    }
}
