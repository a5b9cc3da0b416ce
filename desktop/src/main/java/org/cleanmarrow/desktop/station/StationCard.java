package org.cleanmarrow.desktop.station;

import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;

/** The work of one station, top to bottom in the order people do it. Built anew when the asset changes. */
abstract class StationCard extends VBox {
    final Desk desk;

    StationCard(Desk desk) {
        this.desk = desk;
        getStyleClass().add("card");
    }

    /** Fills the card for the asset as it is. */
    abstract void fill();

    void refresh() {
        getChildren().clear();
        if (desk.isOpen()) {
            fill();
        } else {
            getChildren().add(Parts.sentence(Words.of("card.empty")));
        }
    }

    void title(String key, String below) {
        var title = new javafx.scene.control.Label(Words.of(key));
        title.getStyleClass().add("title");
        var line = Parts.sentence(below);
        line.getStyleClass().add("ink-2");
        getChildren().addAll(title, line);
    }

    void heading(String key, Object... facts) {
        getChildren().add(Parts.heading(key, facts));
    }

    void fact(String key, String value) {
        getChildren().add(Parts.fact(Words.of(key), value));
    }

    void sentence(String key, Object... facts) {
        getChildren().add(Parts.sentence(Words.of(key, facts)));
    }
}
