package org.cleanmarrow.desktop.station.intake;

import java.util.List;
import java.util.OptionalDouble;
import java.util.stream.Collectors;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.PartChoice;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.LodFamilies;
import org.cleanmarrow.steps.intake.LodDistances;
import org.cleanmarrow.steps.intake.Simplify;
import org.cleanmarrow.steps.intake.SweepLods;

/** Levels of detail: those that came along, and new ones made to a number of triangles. */
final class LevelsSection extends VBox {
    private final Desk desk;
    private final Label families = Widgets.sentence("");
    private final PartChoice part;
    private final TextField triangles = new TextField();
    private final ComboBox<Integer> level = new ComboBox<>();
    private final TextField ranges = new TextField("1 0.5 0.25 0.12");
    private String countedFor = "";

    LevelsSection(Desk desk) {
        super(6);
        this.desk = desk;
        part = new PartChoice(desk, "simplify-part", false);
        triangles.setId("simplify-triangles");
        triangles.setPrefColumnCount(6);
        triangles.setAccessibleText(Labels.of("levels.triangles"));
        level.setId("simplify-level");
        level.setAccessibleText(Labels.of("levels.level"));
        level.getItems().setAll(0, 1, 2, 3, 4);
        level.setValue(1);
        level.setConverter(Widgets.shown(l -> l == 0 ? Labels.of("levels.itself") : Labels.of("levels.beside", l)));
        ranges.setId("lod-ranges");
        ranges.setAccessibleText(Labels.of("levels.ranges"));
        part.valueProperty().addListener((o, a, b) -> half());
        HBox what = new HBox(6, part);
        HBox.setHgrow(part, Priority.ALWAYS);
        HBox how = new HBox(6, triangles, level);
        StepRow make = new StepRow(desk, "simplify-preview").also("simplify", "levels.simplify", this::simplify);
        StepRow sweep = new StepRow(desk, "levels-preview")
                .also("sweep-lods", "levels.sweep", () -> new SweepLods(0))
                .also(
                        "lod-screens",
                        "levels.screens",
                        () -> new LodDistances(LodDistances.Measure.SCREEN, ranges.getText()))
                .also(
                        "lod-metres",
                        "levels.metres",
                        () -> new LodDistances(LodDistances.Measure.METRES, ranges.getText()));
        getChildren().addAll(families, what, how, make, ranges, sweep);
    }

    private List<LodFamilies.Family> found() {
        Asset asset = desk.now();
        return desk.facts()
                .of("lod families", asset, w -> LodFamilies.of(asset))
                .orElse(List.of());
    }

    /** How many families there are, in a word. */
    String fact() {
        int many = found().size();
        return many == 0 ? "" : Labels.of("levels.fact", many);
    }

    void refresh() {
        part.refresh();
        half();
        List<LodFamilies.Family> found = found();
        families.setText(
                found.isEmpty()
                        ? Labels.of("levels.none")
                        : found.stream()
                                .map(f -> Labels.of(
                                        "levels.family",
                                        f.name(),
                                        f.members().stream()
                                                .map(m -> Integer.toString(m.level()))
                                                .collect(Collectors.joining(", "))))
                                .collect(Collectors.joining(" ")));
    }

    /** Halving is the first try. */
    private void half() {
        String now = part.part().orElse("");
        if (now.isEmpty() || now.equals(countedFor)) {
            return;
        }
        countedFor = now;
        part.node()
                .filter(n -> n.mesh() >= 0)
                .ifPresent(n -> triangles.setText(Integer.toString(
                        Math.max(4, desk.now().meshes().get(n.mesh()).triangleCount() / 2))));
    }

    private Simplify simplify() throws StepRow.Unclear {
        OptionalDouble wanted = Lengths.number(triangles.getText());
        if (wanted.isEmpty() || wanted.getAsDouble() < 4 || wanted.getAsDouble() > 1e9) {
            throw new StepRow.Unclear("levels.triangles.bad", triangles.getText());
        }
        return new Simplify(part.one(), (int) wanted.getAsDouble(), level.getValue(), 1);
    }
}
