package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import javafx.animation.PauseTransition;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import javafx.util.Duration;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.work.Step;

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
        getChildren().add(Widgets.heading(station == Station.DELIVERY ? "findings.all" : "findings.here", count));
        if (here.isEmpty()) {
            Label clean = Widgets.sentence(Labels.of(desk.isExamined() ? "findings.none" : "findings.running"));
            clean.getStyleClass().add(desk.isExamined() ? "clean" : "ink-2");
            getChildren().add(clean);
        }
        Map<String, List<Step>> alike = alike();
        List<VBox> cards = new ArrayList<>();
        for (int i = 0; i < here.size(); i++) {
            cards.add(card(here.get(i), i, alike.getOrDefault(here.get(i).check(), List.of())));
        }
        getChildren().addAll(cards);
    }

    private VBox card(Finding finding, int index, List<Step> alike) {
        Label message = Widgets.sentence(desk.outcomes().words(finding.message()));
        FlowPane acts = new FlowPane(14, 0);
        Hyperlink show = new Hyperlink(Labels.of("findings.show"));
        show.setId("show-" + finding.check() + "-" + index);
        show.setOnAction(e -> desk.show(finding));
        acts.getChildren().add(show);
        Label effect = Widgets.sentence("");
        effect.getStyleClass().add("ink-2");
        effect.setId("effect-" + finding.check() + "-" + index);
        effect.setManaged(false);
        finding.fix().ifPresent(step -> {
            Hyperlink fix = new Hyperlink(Labels.of(
                    "findings.fix",
                    Labels.of("fix." + StepCodec.info(step.getClass()).name())));
            fix.setId("fix-" + finding.check() + "-" + index);
            fix.setOnAction(e -> desk.apply(step));
            foretell(fix, step, effect);
            acts.getChildren().add(fix);
            if (alike.size() > 1) {
                Hyperlink all = new Hyperlink(Labels.of("findings.fix.all", alike.size()));
                all.setId("fix-all-" + finding.check() + "-" + index);
                all.setOnAction(e -> desk.applyAll(alike));
                acts.getChildren().add(all);
            }
        });
        VBox card = new VBox(4, message, acts, effect);
        card.getStyleClass().addAll("finding", finding.severity().code());
        card.setAccessibleText(Labels.of(
                "findings.accessible",
                finding.severity().code(),
                desk.outcomes().words(finding.message())));
        return card;
    }

    /** Different steps that mend findings of the same rule, by rule. */
    private Map<String, List<Step>> alike() {
        Map<String, LinkedHashSet<Step>> all = new HashMap<>();
        for (Finding finding : desk.findings()) {
            finding.fix()
                    .ifPresent(step -> all.computeIfAbsent(finding.check(), k -> new LinkedHashSet<>())
                            .add(step));
        }
        Map<String, List<Step>> out = new HashMap<>();
        all.forEach((check, steps) -> out.put(check, List.copyOf(steps)));
        return out;
    }

    /** Says what a fix would do while the pointer or the keyboard rests on it. */
    private void foretell(Hyperlink fix, Step step, Label effect) {
        PauseTransition rest = new PauseTransition(Duration.millis(220));
        rest.setOnFinished(e -> desk.preview(step, done -> {
            effect.setText(
                    done.outcome().isEmpty()
                            ? desk.outcomes().sentence(done)
                            : Labels.of("findings.would", desk.outcomes().sentence(done)));
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
