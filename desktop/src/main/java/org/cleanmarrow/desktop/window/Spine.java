package org.cleanmarrow.desktop.window;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import javafx.css.PseudoClass;
import javafx.scene.AccessibleRole;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.layout.VBox;
import javafx.scene.shape.SVGPath;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;

/** The stations in their order as the vertebrae of a spine, each with what is still wrong there. */
final class Spine extends VBox {
    /** Stations that do something; the others join when they do. */
    static final List<Station> STATIONS = List.of(
            Station.INTAKE,
            Station.SCALE_AND_AXES,
            Station.SKELETON,
            Station.SKIN,
            Station.MOTION,
            Station.CACHES,
            Station.COLLISION,
            Station.DELIVERY);

    private static final String VERTEBRA = "M16,4 C20,0 24,5 31,5 C38,5 42,0 46,4 C50,7 55,5 58,9 C62,14 62,22 58,27"
            + " C55,31 50,29 46,32 C42,36 38,31 31,31 C24,31 20,36 16,32 C12,29 7,31 4,27 C0,22 0,14 4,9 C7,5 12,7 16,4 Z";
    private static final PseudoClass OPEN = PseudoClass.getPseudoClass("open");
    private static final PseudoClass BLOCKED = PseudoClass.getPseudoClass("blocked");
    private static final PseudoClass CAUTIONED = PseudoClass.getPseudoClass("cautioned");
    private static final PseudoClass CLEAN = PseudoClass.getPseudoClass("clean");

    private final Desk desk;
    private final Map<Station, Button> buttons = new EnumMap<>(Station.class);
    private final Map<Station, Label> counts = new EnumMap<>(Station.class);

    Spine(Desk desk) {
        this.desk = desk;
        getStyleClass().add("spine");
        for (Station station : STATIONS) {
            if (!getChildren().isEmpty()) {
                Region disc = new Region();
                disc.getStyleClass().add("disc");
                getChildren().add(disc);
            }
            getChildren().add(vertebra(station));
        }
        desk.station().addListener((o, a, b) -> refresh());
        desk.onAnyChange(this::refresh);
        refresh();
    }

    static String name(Station station) {
        return Labels.of("station." + station.name().toLowerCase(java.util.Locale.ROOT));
    }

    private Button vertebra(Station station) {
        SVGPath shape = new SVGPath();
        shape.setContent(VERTEBRA);
        shape.getStyleClass().add("vertebra");
        Label count = new Label();
        count.getStyleClass().add("count");
        counts.put(station, count);
        Label name = new Label(name(station));
        name.getStyleClass().add("name");
        Button button = new Button(null, new VBox(2, new StackPane(shape, count), name));
        button.getStyleClass().setAll("vertebra-button");
        button.setId("station-" + station.name().toLowerCase(java.util.Locale.ROOT));
        button.setAccessibleRole(AccessibleRole.TAB_ITEM);
        button.setOnAction(e -> desk.station().set(station));
        buttons.put(station, button);
        return button;
    }

    private void refresh() {
        Map<Station, Map<Severity, Long>> findings = desk.findings().stream()
                .collect(Collectors.groupingBy(
                        Finding::station, Collectors.groupingBy(Finding::severity, Collectors.counting())));
        for (Station station : STATIONS) {
            Button button = buttons.get(station);
            Map<Severity, Long> here = findings.getOrDefault(station, Map.of());
            long blockers = here.getOrDefault(Severity.BLOCKER, 0L);
            long cautions = here.getOrDefault(Severity.CAUTION, 0L);
            boolean known = desk.wasExamined();
            boolean clean = known && blockers + cautions == 0;
            counts.get(station).setText(!known ? "" : clean ? "✓" : Long.toString(blockers + cautions));
            button.pseudoClassStateChanged(OPEN, desk.station().get() == station);
            button.pseudoClassStateChanged(BLOCKED, blockers > 0);
            button.pseudoClassStateChanged(CAUTIONED, blockers == 0 && cautions > 0);
            button.pseudoClassStateChanged(CLEAN, clean);
            button.setAccessibleText(Labels.of("spine.accessible", name(station), blockers, cautions));
        }
    }
}
