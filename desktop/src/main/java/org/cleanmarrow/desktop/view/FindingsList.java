package org.cleanmarrow.desktop.view;

import java.util.List;
import javafx.animation.PauseTransition;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import javafx.util.Duration;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.step.Step;

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
        FlowPane acts = new FlowPane(14, 0);
        Hyperlink show = new Hyperlink(Words.of("findings.show"));
        show.setId("show-" + finding.check() + "-" + index);
        show.setOnAction(e -> desk.show(finding));
        acts.getChildren().add(show);
        Label effect = Parts.sentence("");
        effect.getStyleClass().add("ink-2");
        effect.setId("effect-" + finding.check() + "-" + index);
        effect.setManaged(false);
        finding.fix().ifPresent(step -> {
            Hyperlink fix = new Hyperlink(Words.of(
                    "findings.fix",
                    Words.of("fix." + StepCodec.info(step.getClass()).name())));
            fix.setId("fix-" + finding.check() + "-" + index);
            fix.setOnAction(e -> desk.apply(step));
            foretell(fix, step, effect);
            acts.getChildren().add(fix);
            List<Step> alike = alike(finding);
            if (alike.size() > 1) {
                Hyperlink all = new Hyperlink(Words.of("findings.fix.all", alike.size()));
                all.setId("fix-all-" + finding.check() + "-" + index);
                all.setOnAction(e -> desk.applyAll(alike));
                acts.getChildren().add(all);
            }
        });
        VBox card = new VBox(4, message, acts, effect);
        card.getStyleClass().addAll("finding", finding.severity().code());
        card.setAccessibleText(
                Words.of("findings.accessible", finding.severity().code(), finding.message()));
        return card;
    }

    /** Different steps that mend findings of the same rule. */
    private List<Step> alike(Finding finding) {
        return desk.findings().stream()
                .filter(f -> f.check().equals(finding.check()))
                .flatMap(f -> f.fix().stream())
                .distinct()
                .toList();
    }

    /** Says what a fix would do while the pointer or the keyboard rests on it. */
    private void foretell(Hyperlink fix, Step step, Label effect) {
        PauseTransition rest = new PauseTransition(Duration.millis(220));
        rest.setOnFinished(e -> desk.preview(step, done -> {
            effect.setText(
                    done.change().isEmpty() ? done.reason() : Words.of("findings.would", Outcomes.sentence(done)));
            effect.setManaged(true);
        }));
        fix.hoverProperty().addListener((o, a, on) -> turn(rest, on));
        fix.focusedProperty().addListener((o, a, on) -> turn(rest, on));
    }

    private static void turn(PauseTransition rest, boolean on) {
        if (on) {
            rest.playFromStart();
        } else {
            rest.stop();
        }
    }
}
