package org.cleanmarrow.desktop.station.delivery;

import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.formats.delivery.Arrival;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.text.Message;

/** What was delivered, or another file, as the receiver sees it: beside what is on the desk, with the figure for size. */
final class ArrivalSection extends VBox {
    private static final int MOST_SAID = 12;

    private final Desk desk;
    private final Button look;
    private final Button away;
    private final VBox said = new VBox(2);

    ArrivalSection(Desk desk, FileDialogs dialogs) {
        super(6);
        this.desk = desk;
        look = Widgets.mainButton(
                "landing-look",
                "arrival.look",
                () -> desk.lastDelivery().ifPresent(d -> desk.files().land(files(d), this::show)));
        Button other = Widgets.button(
                "landing-other",
                "arrival.other",
                () -> dialogs.asset(f -> desk.files().land(List.of(f), this::show)));
        away = Widgets.button("landing-away", "arrival.away", () -> {
            desk.beside().set(null);
            desk.seeing().divider().set(0);
            desk.seeing().figure().set(false);
        });
        said.setId("landing-said");
        getChildren().addAll(Widgets.sentence(Labels.of("arrival.why")), Widgets.row(look, other, away), said);
        desk.beside().addListener((o, a, b) -> {
            refresh();
            if (b == null) {
                said.getChildren().clear();
            }
        });
        refresh();
    }

    /** The model in its first format, and its clips where those lie apart. */
    private static List<Path> files(Delivery.Delivered delivered) {
        String first = delivered.files().getFirst().getFileName().toString();
        String ending = first.substring(first.lastIndexOf('.'));
        return delivered.landings().stream()
                .map(Delivery.Landed::file)
                .distinct()
                .filter(f -> f.toString().endsWith(ending) && !Delivery.isStill(f))
                .toList();
    }

    void refresh() {
        look.setDisable(desk.lastDelivery().isEmpty());
        away.setDisable(desk.beside().get() == null);
    }

    private void show(Arrival arrival) {
        said.getChildren().clear();
        arrival.wrong().stream()
                .limit(MOST_SAID)
                .forEach(m -> said.getChildren().add(line(m, "trouble")));
        if (arrival.wrong().isEmpty()) {
            Label sound = Widgets.sentence(Labels.of("arrival.sound"));
            sound.getStyleClass().add("clean");
            said.getChildren().add(sound);
        }
        arrival.facts().forEach(m -> said.getChildren().add(line(m, "ink-2")));
    }

    private Label line(Message message, String style) {
        Label label = Widgets.sentence(desk.outcomes().words(message));
        label.getStyleClass().add(style);
        return label;
    }
}
