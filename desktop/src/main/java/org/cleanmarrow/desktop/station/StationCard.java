package org.cleanmarrow.desktop.station;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;

/**
 * The work of one station, top to bottom in the order people do it. Filled anew when the asset changes; sections that a card
 * keeps stay in the scene meanwhile, with their focus and style.
 */
abstract class StationCard extends VBox {
    final Desk desk;
    private final List<Node> next = new ArrayList<>();
    private final Map<String, Label> headings = new HashMap<>();
    private final Label title = new Label();
    private final Label line = Widgets.sentence("");

    StationCard(Desk desk) {
        this.desk = desk;
        getStyleClass().add("card");
        title.getStyleClass().add("title");
        line.getStyleClass().add("ink-2");
    }

    /** Fills the card for the asset as it is. */
    abstract void fill();

    void refresh() {
        next.clear();
        if (desk.isOpen()) {
            fill();
        } else {
            put(Widgets.sentence(Labels.of("card.empty")));
        }
        // What was there before and still is stays where it is: taken out and put in again it would be styled anew.
        getChildren().removeIf(n -> !next.contains(n));
        for (int i = 0; i < next.size(); i++) {
            if (i == getChildren().size() || getChildren().get(i) != next.get(i)) {
                getChildren().remove(next.get(i));
                getChildren().add(i, next.get(i));
            }
        }
    }

    /** Adds below what the card has so far. */
    void put(Node... nodes) {
        next.addAll(List.of(nodes));
    }

    void title(String key, String below) {
        title.setText(Labels.of(key));
        line.setText(below);
        put(title, line);
    }

    void heading(String key) {
        put(headings.computeIfAbsent(key, Widgets::heading));
    }

    void fact(String key, String value) {
        put(Widgets.fact(Labels.of(key), value));
    }

    void sentence(String key, Object... facts) {
        put(Widgets.sentence(Labels.of(key, facts)));
    }
}
