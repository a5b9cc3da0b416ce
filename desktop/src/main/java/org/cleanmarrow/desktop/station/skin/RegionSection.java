package org.cleanmarrow.desktop.station.skin;

import java.util.BitSet;
import java.util.EnumMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import javafx.scene.paint.Color;
import javafx.scene.shape.Rectangle;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.RegionTints;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.MarkRegions;
import org.cleanmarrow.steps.skin.SetRegion;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.work.VertexSet;

/** Which region of the body each triangle of a part belongs to: marked by its joints, seen in colours, and given by hand. */
final class RegionSection extends VBox {
    private final Desk desk;
    private final TextField part;
    private final CheckBox missing = new CheckBox(Labels.of("region.missing"));
    private final ComboBox<BodyRegion> region;
    private final FlowPane legend = Widgets.row();
    private Map<BodyRegion, BitSet> shown = Map.of();

    private record Found(Optional<Integer> part) {}

    RegionSection(Desk desk) {
        super(6);
        this.desk = desk;
        Fields fields = new Fields(desk, "region");
        part = fields.names("region-part", fields::meshes, "");
        part.textProperty().addListener((o, a, b) -> refresh());
        region = fields.choice("region", BodyRegion.values());
        missing.setId("region-missing");
        legend.setId("regions-there");
        StepRow mark = new StepRow(desk, "region-mark-preview").main("region-mark", "region.mark", this::marked);
        StepRow give = new StepRow(desk, "region-give-preview").also("region-give", "region.give", this::given);
        FlowPane show = Widgets.row(Widgets.button(
                "region-show", "region.show", () -> desk.seeing().paint().set(ShadingMode.REGIONS)));
        getChildren()
                .addAll(
                        Widgets.labelled("region.part.name", part),
                        missing,
                        mark,
                        legend,
                        show,
                        Widgets.labelled("region.which", region),
                        give);
    }

    /** Whether the part that is meant has regions, in a word. */
    String fact() {
        boolean marked = desk.isOpen()
                && part().filter(m -> RegionMarks.on(desk.now().meshes().get(m)))
                        .isPresent();
        return marked ? Labels.of("region.fact") : "";
    }

    void refresh() {
        part.setPromptText(part().map(m -> desk.now().meshRef(m)).orElse(""));
        Optional<Mesh> mesh = part().map(m -> desk.now().meshes().get(m));
        Map<BodyRegion, BitSet> now = mesh.flatMap(m -> desk.facts().of("regions", m, w -> byRegion(m)))
                .orElse(Map.of());
        if (!now.equals(shown)) {
            shown = now;
            legend.getChildren()
                    .setAll(now.entrySet().stream()
                            .map(e -> swatch(e.getKey(), e.getValue()))
                            .toList());
        }
    }

    private static Map<BodyRegion, BitSet> byRegion(Mesh mesh) {
        Map<BodyRegion, BitSet> out = new EnumMap<>(BodyRegion.class);
        BodyRegion[] all = RegionMarks.of(mesh);
        for (int v = 0; v < all.length; v++) {
            if (all[v] != null) {
                out.computeIfAbsent(all[v], k -> new BitSet()).set(v);
            }
        }
        return out;
    }

    /** Colour and name of a region; pressed, it selects what belongs to it, and is the one to give. */
    private Button swatch(BodyRegion which, BitSet vertices) {
        int rgb = RegionTints.rgb(which);
        Button out = new Button(name(which));
        out.setGraphic(new Rectangle(10, 10, Color.rgb(rgb >> 16, rgb >> 8 & 255, rgb & 255)));
        out.setId("region-" + which.code());
        out.setOnAction(e -> part().ifPresent(m -> {
            region.setValue(which);
            desk.selection().choose(m, (BitSet) vertices.clone());
        }));
        return out;
    }

    private static String name(BodyRegion which) {
        return Labels.of("region.kind." + which.name().toLowerCase(Locale.ROOT));
    }

    /** The mesh that is typed, or that the selection is on; else the first that has regions, or that joints move. */
    private Optional<Integer> part() {
        Asset asset = desk.now();
        if (!part.getText().isBlank()) {
            int named = asset.findMesh(part.getText().strip());
            return named < 0 ? Optional.empty() : Optional.of(named);
        }
        int chosen = desk.selection().chosen().get().mesh();
        return chosen >= 0 ? Optional.of(chosen) : found().flatMap(Found::part);
    }

    /** What is meant where nothing is typed or selected; empty while it is being found. */
    private Optional<Found> found() {
        Asset asset = desk.now();
        return desk.facts()
                .of(
                        "region-part",
                        asset,
                        w -> new Found(first(asset, RegionMarks::on).or(() -> first(asset, Mesh::skinned))));
    }

    private static Optional<Integer> first(Asset asset, Predicate<Mesh> which) {
        return IntStream.range(0, asset.meshes().size())
                .filter(m -> which.test(asset.meshes().get(m)))
                .boxed()
                .findFirst();
    }

    private MarkRegions marked() throws StepRow.Unclear {
        int mesh = part().orElseThrow(() -> part.getText().isBlank()
                ? new StepRow.Unclear(found().isEmpty() ? "region.looking" : "region.none")
                : new StepRow.Unclear("region.part", part.getText()));
        return new MarkRegions(desk.now().meshRef(mesh), missing.isSelected());
    }

    private SetRegion given() throws StepRow.Unclear {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("region.select");
        }
        Mesh mesh = desk.now().meshes().get(chosen.mesh());
        return new SetRegion(
                desk.now().meshRef(chosen.mesh()),
                VertexSet.chosen(mesh, chosen.vertices()),
                region.getValue().code());
    }
}
