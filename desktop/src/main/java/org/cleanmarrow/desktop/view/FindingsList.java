package org.cleanmarrow.desktop.view;

import java.util.List;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.ledger.StepCodec;

/** What is wrong at the open station: a sentence each, with Show and, where there is one, Fix. */
final class FindingsList extends VBox {
    private final Desk desk;

    FindingsList(Desk desk) {
        this.desk = desk;
        getStyleClass().add("findings");
        desk.revision().addListener((o, a, b) -> refresh());
        desk.station().addListener((o, a, b) -> refresh());
        refresh();
    }

    private void refresh() {
        getChildren().clear();
        if (!desk.isOpen()) {
            return;
        }
        Station station = desk.station().get();
        List<Finding> here = station == Station.DELIVERY ? desk.findings() : desk.findingsAt(station);
        Label count = new Label(Integer.toString(here.size()));
        getChildren().add(Parts.heading(station == Station.DELIVERY ? "findings.all" : "findings.here", count));
        if (here.isEmpty()) {
            Label clean = Parts.sentence(Words.of(desk.isExamined() ? "findings.none" : "findings.running"));
            clean.getStyleClass().add(desk.isExamined() ? "clean" : "ink-2");
            getChildren().add(clean);
        }
        for (int i = 0; i < here.size(); i++) {
            getChildren().add(card(here.get(i), i));
        }
    }

    private VBox card(Finding finding, int index) {
        Label message = Parts.sentence(finding.message());
        HBox acts = new HBox(14);
        Hyperlink show = new Hyperlink(Words.of("findings.show"));
        show.setId("show-" + finding.check() + "-" + index);
        show.setOnAction(e -> desk.show(finding));
        acts.getChildren().add(show);
        finding.fix().ifPresent(step -> {
            Hyperlink fix = new Hyperlink(Words.of(
                    "findings.fix",
                    Words.of("fix." + StepCodec.info(step.getClass()).name())));
            fix.setId("fix-" + finding.check() + "-" + index);
            fix.setOnAction(e -> desk.apply(step));
            acts.getChildren().add(fix);
        });
        VBox card = new VBox(4, message, acts);
        card.getStyleClass().addAll("finding", finding.severity().code());
        card.setAccessibleText(
                Words.of("findings.accessible", finding.severity().code(), finding.message()));
        return card;
    }
}
