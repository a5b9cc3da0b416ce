package org.cleanmarrow.desktop.station.delivery;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.Formats;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.query.Shipping;
import org.cleanmarrow.text.Bytes;
import org.cleanmarrow.work.Refused;

/** Writes a version, reads it back, and says how far what landed moves from what was meant. */
public final class DeliveryStation extends StationDef {
    /** Files that are listed before they are written; what is more is counted. */
    private static final int MOST_LISTED = 40;

    private final TextField folder =
            new TextField(Path.of("deliveries").toAbsolutePath().toString());
    private final ComboBox<String> format = new ComboBox<>();
    private final CheckBox apart = new CheckBox(Labels.of("delivery.apart"));
    private final Label next = new Label("–");
    private final Label left = Widgets.twoLines("delivery-left");
    private final Label file = new Label("–");
    private final Label moments = new Label("–");
    private final Label largest = new Label("–");
    private final Label mean = new Label("–");
    private final Label verdict = Widgets.sentence(Labels.of("delivery.none"));
    private final VBox notes = new VBox(2);
    private final VBox planned = new VBox(2);
    private final Button report = Widgets.button(
            "delivery-report", "delivery.report", () -> desk.files().report());
    private final RecipeSection recipe;
    private final Act consists;
    private final Act files =
            new Act("delivery-files", planned).refreshing(this::plan).says(this::planFact);
    private List<Delivery.Planned> listed = List.of();
    private Delivery.Delivered shown;
    private final Object nothing = new Object();

    public DeliveryStation(Desk desk, FileDialogs dialogs) {
        super(Station.DELIVERY, desk);
        format.setId("delivery-format");
        format.setAccessibleText(Labels.of("delivery.format"));
        format.getItems().setAll(AssetFiles.written());
        format.setValue("glb");
        format.setMaxWidth(Double.MAX_VALUE);
        format.setConverter(Widgets.shown(ending -> Labels.of("format." + ending)));
        format.valueProperty().addListener((o, a, b) -> chosen());
        folder.setId("delivery-folder");
        folder.setAccessibleText(Labels.of("delivery.folder"));
        folder.textProperty().addListener((o, a, b) -> chosen());
        apart.setId("delivery-apart");
        apart.selectedProperty().addListener((o, a, b) -> chosen());
        verdict.setId("delivery-verdict");
        planned.setId("delivery-planned");
        recipe = new RecipeSection(desk, format, apart, this::chosen);
        consists = new Act("delivery-recipe", recipe).says(() -> {
            recipe.refresh();
            return recipe.fact();
        });
        ArrivalSection arrives = new ArrivalSection(desk, dialogs);
        FlowPane write = Widgets.row(
                Widgets.button(
                        "choose-folder", "delivery.choose", () -> dialogs.folder(f -> folder.setText(f.toString()))),
                Widgets.mainButton(
                        "deliver",
                        "delivery.act",
                        () -> desk.files().deliver(Path.of(folder.getText().strip()), recipe())));
        write.setAlignment(javafx.geometry.Pos.CENTER_RIGHT);
        List<Act> acts = List.of(
                new Act(
                                "delivery-write",
                                Widgets.labelled("delivery.as", format),
                                Widgets.labelled("delivery.to", folder),
                                apart,
                                Widgets.fact("delivery.next", next),
                                left,
                                write)
                        .refreshing(this::describe)
                        .says(() -> format.getValue())
                        .opened(),
                consists,
                files,
                new Act(
                                "delivery-landing",
                                Widgets.fact("delivery.file", file),
                                Widgets.fact("delivery.moments", moments),
                                Widgets.fact("delivery.largest", largest),
                                Widgets.fact("delivery.mean", mean),
                                verdict,
                                notes,
                                Widgets.row(report))
                        .refreshing(this::landing)
                        .says(() -> desk.lastDelivery()
                                .map(d -> Labels.of(d.sound() ? "delivery.fact.sound" : "delivery.fact.differs"))
                                .orElse(""))
                        .opened(),
                new Act("delivery-arrives", arrives).refreshing(arrives::refresh),
                new Act(
                        "delivery-again",
                        Widgets.sentence(Labels.of("delivery.again.why")),
                        Widgets.row(Widgets.button("newer-source", "intake.newer", dialogs::openNewer))));
        consistOf(acts, List.of(), Piece.PARTS, Piece.CLIPS);
    }

    @Override
    public String facts() {
        long blockers = desk.findings().stream()
                .filter(f -> f.severity() == Severity.BLOCKER)
                .count();
        return !desk.wasExamined()
                ? Labels.of("findings.running")
                : Labels.of(blockers == 0 ? "delivery.clean" : "delivery.blocked", blockers);
    }

    /** What is chosen here is no change of the desk: nobody else tells of it. */
    private void chosen() {
        if (consists != null) {
            describe();
            consists.refresh();
            files.refresh();
        }
    }

    private Recipe recipe() {
        return recipe.recipe();
    }

    /** The folder is looked into, and what the format leaves out is found, away from the interface thread. */
    private void describe() {
        if (!desk.isOpen()) {
            return;
        }
        Asset asset = desk.now();
        String ending = format.getValue();
        String to = folder.getText().strip();
        Object about = desk.lastDelivery().<Object>map(d -> d).orElse(nothing);
        apart.setDisable(asset.clips().isEmpty());
        Recipe wanted = recipe();
        String version = desk.facts()
                .of("next version", about, List.of(asset.name(), wanted, to), w -> nextName(asset, to, wanted))
                .orElse("…");
        next.setText(
                apart.isSelected()
                        ? Labels.of(
                                "delivery.and.clips",
                                version,
                                asset.clips().stream().filter(Clip::ships).count())
                        : version);
        left.setText(desk.facts()
                .of(
                        "left out",
                        asset,
                        ending,
                        w -> Formats.ofEnding(ending)
                                .flatMap(f -> f.leavesOut(Shipping.of(asset)))
                                .map(m -> desk.outcomes().words(m) + ".")
                                .orElse(""))
                .orElse(""));
    }

    private Optional<List<Delivery.Planned>> known() {
        if (!desk.isOpen()) {
            return Optional.empty();
        }
        Asset asset = desk.now();
        String to = folder.getText().strip();
        Recipe wanted = recipe();
        // Each delivery leaves another version to be the next.
        String last = desk.lastDelivery().map(d -> d.manifest().toString()).orElse("");
        return desk.facts().of("planned files", asset, List.of(wanted, to, last), w -> {
            try {
                return Delivery.planned(asset, Path.of(to), wanted, w);
            } catch (IOException | IllegalArgumentException | Refused e) {
                return List.of();
            }
        });
    }

    private String planFact() {
        return known().map(all -> Labels.of(
                        "delivery.files.fact",
                        all.size(),
                        Bytes.say(
                                all.stream().mapToLong(Delivery.Planned::bytes).sum())))
                .orElse("…");
    }

    /** Every file that would be written, before it is. */
    private void plan() {
        List<Delivery.Planned> all = known().orElse(List.of());
        if (all.equals(listed)) {
            return;
        }
        listed = all;
        planned.getChildren().clear();
        for (Delivery.Planned one : all.subList(0, Math.min(MOST_LISTED, all.size()))) {
            planned.getChildren().add(Widgets.fact(one.name(), Bytes.say(one.bytes())));
            if (one.parts() + one.clips() > 0) {
                planned.getChildren().add(Widgets.sentence(Labels.of("delivery.holds", one.parts(), one.clips())));
            }
        }
        if (all.size() > MOST_LISTED) {
            planned.getChildren().add(Widgets.sentence(Labels.of("delivery.more", all.size() - MOST_LISTED)));
        }
    }

    private static String nextName(Asset asset, String to, Recipe recipe) {
        try {
            return Delivery.nextName(asset, Path.of(to), recipe) + "."
                    + recipe.formats().getFirst();
        } catch (IOException | IllegalArgumentException e) {
            return "–";
        }
    }

    private void landing() {
        Optional<Delivery.Delivered> last = desk.lastDelivery();
        report.setDisable(last.isEmpty());
        if (last.orElse(null) == shown) {
            return;
        }
        shown = last.orElse(null);
        verdict.getStyleClass().removeAll("clean", "trouble");
        notes.getChildren().clear();
        if (shown == null) {
            List.of(file, moments, largest, mean).forEach(l -> l.setText("–"));
            verdict.setText(Labels.of("delivery.none"));
            return;
        }
        Motion motion = shown.landing();
        String first = shown.files().getFirst().getFileName().toString();
        long own =
                shown.landings().stream().map(Delivery.Landed::file).distinct().count() - 1;
        file.setText(own > 0 ? Labels.of("delivery.and.clips", first, own) : first);
        moments.setText(Integer.toString(motion.moments()));
        largest.setText(desk.outcomes().length(motion.largestMetres()));
        mean.setText(desk.outcomes().length(motion.meanMetres()));
        verdict.setText(
                shown.sound()
                        ? Labels.of("delivery.sound")
                        : Labels.of("delivery.differs", String.join("; ", shown.differences())));
        verdict.getStyleClass().add(shown.sound() ? "clean" : "trouble");
        shown.tooLarge(desk.target().get())
                .forEach(f ->
                        notes.getChildren().add(Widgets.sentence(desk.outcomes().words(f.message()))));
        notes.getChildren()
                .add(Widgets.sentence(Labels.of(
                        "delivery.manifest",
                        shown.manifest().getFileName(),
                        shown.bytes().size())));
        shown.notes().forEach(n -> notes.getChildren().add(Widgets.sentence(n)));
    }
}
