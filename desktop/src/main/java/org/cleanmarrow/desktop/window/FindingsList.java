package org.cleanmarrow.desktop.window;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import javafx.css.PseudoClass;
import javafx.geometry.Pos;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Step;

/**
 * What is wrong at the open station, a line each with Show and, where there is one, Fix; below it room for what a fix or the
 * act in the tray would do.
 */
final class FindingsList extends VBox {
    private static final double ROW = 30;
    private static final int SEEN = 4;

    private final Desk desk;
    private final Label count = new Label();
    private final Label clean = new Label();
    private final ListView<Row> list = new ListView<>();
    private final MendAll mend;
    private List<Finding> listed;
    private Station listedAt;

    /**
     * One finding.
     *
     * @param alike different steps that mend findings of the same rule, itself among them
     */
    private record Row(Finding finding, int index, List<Step> alike) {}

    FindingsList(Desk desk) {
        this.desk = desk;
        getStyleClass().add("findings");
        setMinHeight(USE_PREF_SIZE);
        mend = new MendAll(desk);
        Hyperlink all = new Hyperlink(Labels.of("mend.all"));
        all.setId("mend-all");
        all.setMinWidth(USE_PREF_SIZE);
        all.setOnAction(e -> mend.propose());
        all.disableProperty().bind(mend.busyProperty().or(desk.asset().isNull()));
        Label title = Widgets.heading("findings.here");
        count.getStyleClass().add("ink-2");
        count.setId("findings-count");
        HBox heading = new HBox(8, title, count, Widgets.spring(), all);
        heading.setAlignment(Pos.BASELINE_LEFT);
        list.setId("findings");
        list.setAccessibleText(Labels.of("findings.here"));
        list.setFixedCellSize(ROW);
        list.setCellFactory(l -> new Cell());
        list.setPlaceholder(clean);
        double height = SEEN * ROW + 2;
        list.setMinHeight(height);
        list.setPrefHeight(height);
        list.setMaxHeight(height);
        Label foretold = Widgets.twoLines("preview");
        foretold.textProperty().bind(desk.foreteller().said());
        getChildren().addAll(heading, list, foretold, mend);
        desk.onAnyChange(this::refresh);
        refresh();
    }

    private void refresh() {
        clean.getStyleClass().setAll("label", desk.isExamined() ? "clean" : "ink-2");
        clean.setText(!desk.isOpen() ? "" : Labels.of(desk.isExamined() ? "findings.none" : "findings.running"));
        Station station = desk.station().get();
        if (listed == desk.findings() && listedAt == station) {
            sayCount();
            return;
        }
        listed = desk.findings();
        listedAt = station;
        List<Finding> here = station == Station.DELIVERY ? listed : desk.findingsAt(station);
        Map<String, List<Step>> alike = alike();
        List<Row> rows = new ArrayList<>();
        for (int i = 0; i < here.size(); i++) {
            rows.add(new Row(here.get(i), i, alike.getOrDefault(here.get(i).check(), List.of())));
        }
        list.getItems().setAll(rows);
        sayCount();
    }

    private void sayCount() {
        count.setText(desk.wasExamined() ? Integer.toString(list.getItems().size()) : "");
    }

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

    private final class Cell extends ListCell<Row> {
        private final Region bar = new Region();
        private final Label sentence = new Label();
        private final Hyperlink show = new Hyperlink(Labels.of("findings.show"));
        private final Hyperlink fix = new Hyperlink(Labels.of("findings.fix"));
        private final Hyperlink all = new Hyperlink();
        private final HBox row = new HBox(3, bar, sentence, Widgets.spring(), show, fix, all);

        Cell() {
            getStyleClass().add("finding-cell");
            bar.getStyleClass().add("severity");
            sentence.setMinWidth(30);
            sentence.getStyleClass().add("finding-words");
            for (Hyperlink link : List.of(show, fix, all)) {
                link.setMinWidth(USE_PREF_SIZE);
            }
            row.setAlignment(Pos.CENTER_LEFT);
            row.setPrefWidth(0);
            setGraphic(row);
            show.setOnAction(e -> desk.show(getItem().finding));
            fix.setOnAction(e -> getItem().finding.fix().ifPresent(desk::apply));
            all.setOnAction(e -> desk.applyAll(getItem().alike));
            desk.foreteller().on(fix, () -> Optional.ofNullable(getItem()).flatMap(r -> r.finding.fix()));
        }

        @Override
        protected void updateItem(Row item, boolean empty) {
            super.updateItem(item, empty);
            setText(null);
            row.setVisible(!empty && item != null);
            if (empty || item == null) {
                List.of(show, fix, all).forEach(b -> b.setId(null));
                Tips.say(this, "");
                setAccessibleText("");
                return;
            }
            Finding finding = item.finding;
            String words = desk.outcomes().words(finding.message());
            String at = finding.check() + "-" + item.index;
            sentence.setText(words);
            String fixed = finding.fix()
                    .map(step -> Labels.of("findings.tip", words, Labels.of("fix." + name(step))))
                    .orElse(words);
            Tips.say(
                    this,
                    Labels.of(
                            "findings.tip.why",
                            fixed,
                            desk.outcomes().words(Message.of("why." + finding.check())),
                            desk.outcomes().words(Message.of("measured." + finding.check()))));
            setAccessibleText(
                    Labels.of("findings.accessible", finding.severity().code(), words));
            show.setId("show-" + at);
            fix.setId("fix-" + at);
            all.setId("fix-all-" + at);
            fix.setVisible(finding.fix().isPresent());
            fix.setAccessibleText(finding.fix()
                    .map(step -> Labels.of("findings.fix.by", Labels.of("fix." + name(step))))
                    .orElse(""));
            boolean several = item.alike.size() > 1 && finding.fix().isPresent();
            all.setText(several ? Labels.of("findings.fix.all", item.alike.size()) : "");
            all.setManaged(several);
            all.setVisible(several);
            for (Severity severity : Severity.values()) {
                bar.pseudoClassStateChanged(
                        PseudoClass.getPseudoClass(severity.code()), finding.severity() == severity);
            }
        }

        private static String name(Step step) {
            return StepCodec.info(step.getClass()).name();
        }
    }
}
