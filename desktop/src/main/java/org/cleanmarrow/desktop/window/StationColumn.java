package org.cleanmarrow.desktop.window;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;

/** The column of the open station: what it is, what is wrong there, and below all that can be done. */
final class StationColumn extends VBox {
    private final Desk desk;
    private final Stations stations;
    private final Label title = new Label();
    private final Label facts = new Label();
    private final ScrollPane scroll = new ScrollPane();
    private final Map<Station, VBox> acts = new EnumMap<>(Station.class);
    private final Map<Station, Double> scrolled = new EnumMap<>(Station.class);
    private StationDef shown;

    StationColumn(Desk desk, Stations stations, Node findings) {
        this.desk = desk;
        this.stations = stations;
        getStyleClass().add("right");
        setMinWidth(270);
        title.getStyleClass().add("title");
        title.setId("station-title");
        title.setMinWidth(USE_PREF_SIZE);
        facts.getStyleClass().add("ink-2");
        facts.setId("station-facts");
        facts.setMinWidth(0);
        Tips.say(facts, facts::getText);
        HBox head = new HBox(10, title, Widgets.spring(), facts);
        head.setAlignment(Pos.BASELINE_LEFT);
        head.getStyleClass().add("station-head");
        scroll.setFitToWidth(true);
        scroll.setHbarPolicy(ScrollPane.ScrollBarPolicy.NEVER);
        scroll.setFocusTraversable(false);
        scroll.setId("acts");
        VBox.setVgrow(scroll, Priority.ALWAYS);
        for (StationDef station : stations.all()) {
            VBox list = new VBox();
            list.getStyleClass().add("acts");
            list.getChildren().add(Widgets.heading("column.acts"));
            list.getChildren().addAll(station.acts());
            acts.put(station.station(), list);
        }
        getChildren().addAll(head, findings, scroll);
        desk.onAnyChange(this::refresh);
        refresh();
    }

    private void refresh() {
        StationDef station = stations.of(desk.station().get());
        if (shown != station) {
            if (shown != null) {
                scrolled.put(shown.station(), scroll.getVvalue());
            }
            shown = station;
            desk.foreteller().say("");
            title.setText(Labels.of("station." + station.station().name().toLowerCase(java.util.Locale.ROOT)));
            scroll.setContent(acts.get(station.station()));
            scroll.setVvalue(scrolled.getOrDefault(station.station(), 0.0));
        }
        VBox list = acts.get(station.station());
        list.setDisable(!desk.isOpen());
        if (!desk.isOpen()) {
            facts.setText(Labels.of("column.empty"));
            all().forEach(Act::clear);
            return;
        }
        facts.setText(station.facts());
        station.acts().forEach(Act::refresh);
    }

    /** Unfolds an act of a station, goes there, and brings it into sight. */
    public void reveal(Act act) {
        stations.all().stream()
                .filter(s -> s.acts().contains(act))
                .findFirst()
                .ifPresent(s -> desk.station().set(s.station()));
        refresh();
        act.openProperty().set(true);
        applyCss();
        layout();
        bring(act);
    }

    private void bring(Node node) {
        double top = scroll.getContent().sceneToLocal(node.localToScene(0, 0)).getY();
        double room = scroll.getContent().getBoundsInLocal().getHeight()
                - scroll.getViewportBounds().getHeight();
        if (room > 0) {
            scroll.setVvalue(Math.clamp(top / room, 0, 1));
        }
    }

    /** All acts of all stations, to be found by name. */
    public List<Act> all() {
        return stations.all().stream().flatMap(s -> s.acts().stream()).toList();
    }
}
