package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.List;
import javafx.css.PseudoClass;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;

/** Under the view: how a drag selects, what a click takes, and what the open station keeps at hand. */
final class Tray extends HBox {
    private static final PseudoClass END = PseudoClass.getPseudoClass("end");

    private final Desk desk;
    private final Stations stations;
    private final Chooser chooser;
    private final Brush brush;
    private final HBox drags;
    private final HBox reaches;

    Tray(Desk desk, Stations stations, ViewportPane viewport) {
        super(8);
        this.desk = desk;
        this.stations = stations;
        chooser = viewport.chooser();
        brush = viewport.brush();
        getStyleClass().add("tray");
        setAlignment(Pos.CENTER_LEFT);
        setMinWidth(0);
        drags = Widgets.choices("drag", "skin.drag", Chooser.Gesture.values(), chooser.gesture());
        reaches = Widgets.choices("tool", "skin.tool", Chooser.Reach.values(), chooser.reach());
        for (HBox choices : List.of(drags, reaches)) {
            choices.setAlignment(Pos.CENTER_LEFT);
            choices.setMinWidth(USE_PREF_SIZE);
        }
        desk.station().addListener((o, a, b) -> show());
        desk.asset().addListener((o, a, b) -> setDisable(!desk.isOpen()));
        show();
        setDisable(!desk.isOpen());
    }

    private void show() {
        StationDef station = stations.of(desk.station().get());
        boolean paints = station.paint().isPresent();
        brush.paint().set(station.paint().orElse(null));
        ToggleButton painting = (ToggleButton) drags.getChildren().get(Chooser.Gesture.PAINT.ordinal());
        painting.setVisible(paints);
        painting.setManaged(paints);
        // The last that is seen has the row's end.
        Node before = drags.getChildren().get(Chooser.Gesture.PAINT.ordinal() - 1);
        before.pseudoClassStateChanged(END, !paints);
        if (!paints && chooser.gesture().get() == Chooser.Gesture.PAINT) {
            chooser.gesture().set(Chooser.Gesture.BOX);
        }
        List<Node> all = new ArrayList<>(List.of(drags, reaches));
        if (station.tray().stream().noneMatch(n -> HBox.getHgrow(n) == Priority.ALWAYS)) {
            all.add(Widgets.spring());
        }
        all.addAll(station.tray());
        getChildren().setAll(all);
    }
}
