package org.cleanmarrow.desktop.station.skin;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Movers;
import org.cleanmarrow.steps.skin.Dress;

/** Puts parts that are worn onto a body in one go. What is left empty is found: the mesh that most joints move, and all loose parts. */
final class DressSection extends VBox {
    private final Desk desk;
    private final TextField body;
    private final TextField worn;
    private final TextField hard;
    private final TextField out;
    private final ComboBox<Dress.Hidden> hidden;
    private final CheckBox regions = new CheckBox(Labels.of("dress.regions"));

    DressSection(Desk desk) {
        super(6);
        this.desk = desk;
        Fields fields = new Fields(desk, "dress");
        body = fields.names("dress-body", this::meshes, "");
        worn = fields.names("dress-worn", this::meshes, "");
        hard = fields.names(
                "dress-hard",
                () -> desk.now().materials().stream().map(Material::name).toList(),
                "");
        hard.setPromptText(Labels.of("dress.hard.none"));
        out = fields.number("dress-out", "10");
        out.setPrefColumnCount(4);
        hidden = fields.choice("dress-hidden", Dress.Hidden.values());
        regions.setId("dress-regions");
        HBox limit = Widgets.labelled("dress.out", out);
        limit.getChildren().add(new Label("mm"));
        getChildren()
                .addAll(
                        Widgets.labelled("dress.body", body),
                        Widgets.labelled("dress.worn", worn),
                        Widgets.labelled("dress.hard", hard),
                        limit,
                        Widgets.labelled("dress.hidden", hidden),
                        regions,
                        new StepRow(desk, "dress-preview").main("dress", "dress.act", this::step));
    }

    private List<String> meshes() {
        Asset asset = desk.now();
        return IntStream.range(0, asset.meshes().size())
                .mapToObj(asset::meshRef)
                .toList();
    }

    /** What is meant where nothing is typed. */
    private record Found(String body, String worn) {}

    void refresh() {
        Optional<Found> found = found();
        body.setPromptText(found.map(Found::body).orElse(""));
        worn.setPromptText(found.map(Found::worn).orElse(""));
    }

    /** Empty while it is being found. */
    private Optional<Found> found() {
        Asset asset = desk.now();
        return desk.facts().of("dress", asset, w -> new Found(foundBody(asset), foundWorn(asset)));
    }

    /** Which the most joints move: a garment may have more vertices, and has fewer joints. */
    private static String foundBody(Asset asset) {
        return IntStream.range(0, asset.meshes().size())
                .filter(m -> asset.skinOfMesh(m) >= 0 && asset.meshes().get(m).skinned())
                .boxed()
                .max(Comparator.<Integer>comparingInt(
                                m -> Movers.positions(asset.meshes().get(m)).cardinality())
                        .thenComparingInt(m -> asset.meshes().get(m).vertexCount()))
                .map(m -> NamePattern.exactly(asset.meshRef(m)))
                .orElse("");
    }

    private static String foundWorn(Asset asset) {
        return Dress.loose(asset).stream()
                .map(m -> NamePattern.exactly(asset.meshRef(m)))
                .collect(Collectors.joining(", "));
    }

    private Dress step() throws StepRow.Unclear {
        Found found = found().orElseThrow(() -> new StepRow.Unclear("dress.looking"));
        String on = body.getText().isBlank() ? found.body : body.getText().strip();
        String what = worn.getText().isBlank() ? found.worn : worn.getText().strip();
        if (on.isEmpty() || what.isEmpty()) {
            throw new StepRow.Unclear(on.isEmpty() ? "dress.no.body" : "dress.no.worn");
        }
        OptionalDouble most = Lengths.number(out.getText());
        if (most.isEmpty()) {
            throw new StepRow.Unclear("number.bad", out.getText());
        }
        int joints = Math.max(1, desk.target().get().influences());
        return new Dress(
                on,
                what,
                hard.getText().strip(),
                joints,
                0.5,
                most.getAsDouble(),
                regions.isSelected(),
                hidden.getValue());
    }
}
