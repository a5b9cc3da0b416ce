package org.cleanmarrow.desktop.station;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import javafx.scene.layout.StackPane;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.examination.Station;

/** Shows the card of the open station. A new station is added by its line here. */
public final class StationPane extends StackPane {
    private final Map<Station, StationCard> cards = new EnumMap<>(Station.class);
    private final Desk desk;

    public StationPane(Desk desk, ViewportPane viewport, FileDialogs dialogs) {
        this.desk = desk;
        cards.put(Station.INTAKE, new IntakeCard(desk, viewport, dialogs));
        cards.put(Station.SCALE_AND_AXES, new ScaleCard(desk, viewport));
        cards.put(Station.SKELETON, new SkeletonCard(desk, dialogs));
        cards.put(Station.SKIN, new SkinCard(desk, viewport));
        cards.put(Station.MOTION, new MotionCard(desk));
        cards.put(Station.DELIVERY, new DeliveryCard(desk, dialogs));
        desk.station().addListener((o, a, b) -> refresh());
        desk.revision().addListener((o, a, b) -> refresh());
        refresh();
    }

    private void refresh() {
        StationCard card = cards.get(desk.station().get());
        if (!getChildren().equals(List.of(card))) {
            getChildren().setAll(card);
        }
        card.refresh();
    }
}
