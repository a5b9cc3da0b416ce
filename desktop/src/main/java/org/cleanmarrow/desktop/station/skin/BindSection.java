package org.cleanmarrow.desktop.station.skin;

import java.util.Arrays;
import java.util.BitSet;
import java.util.Optional;
import java.util.OptionalDouble;
import javafx.beans.property.ObjectProperty;
import javafx.beans.property.SimpleObjectProperty;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.PartChoice;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.BindNear;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.CleanSides;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.MirrorWeights;
import org.cleanmarrow.steps.skin.QuantiseWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.steps.skin.WeldWeights;
import org.cleanmarrow.weights.VolumeBind;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/** Weights that are found: by volume, by nearness, from another mesh, from the other side; and cut to what the target takes. */
final class BindSection {
    /** A plain fill over the surface needs more joints than a target takes; they are cut afterwards, by their effect. */
    private static final int SMOOTH_FILL = 8;

    private final Desk desk;
    private final PartChoice part;
    private final PartChoice toPart;
    private final PartChoice sidesPart;
    private final ObjectProperty<VolumeBind.How> how = new SimpleObjectProperty<>(VolumeBind.How.HEAT);
    private final ObjectProperty<MirrorWeights.From> side = new SimpleObjectProperty<>(MirrorWeights.From.LEFT);
    private final TextField joints = field("bind-joints", "*", 8);
    private final TextField without = field("bind-without", "", 8);
    private final TextField softness = field("bind-softness", "0.5", 3);
    private final TextField radius = field("bind-radius", "0", 4);
    private final NameField from;
    private final TextField reach = field("transfer-reach", "0", 4);
    private final TextField degrees = field("transfer-degrees", "0", 3);
    private final TextField tolerance = field("mirror-tolerance", "1", 3);
    private final TextField band = field("side-band", "40", 3);
    private final NameField on;
    private final TradeSlider trade;
    private final CheckBox eitherSide = new CheckBox(Labels.of("transfer.either"));
    private final CheckBox onlyChosen = new CheckBox(Labels.of("bind.only"));
    private final CheckBox alone = new CheckBox(Labels.of("bind.alone"));
    private final VBox bind;
    private final VBox transfer;
    private final VBox sides;
    private final VBox limits;

    BindSection(Desk desk) {
        this.desk = desk;
        part = new PartChoice(desk, "bind-part", false);
        // One choice of a part, shown in three acts.
        toPart = new PartChoice(desk, "transfer-to", false);
        sidesPart = new PartChoice(desk, "sides-part", false);
        toPart.valueProperty().bindBidirectional(part.valueProperty());
        sidesPart.valueProperty().bindBidirectional(part.valueProperty());
        from = new NameField(
                "transfer-from",
                () -> desk.now().meshes().stream().map(m -> m.name()).toList());
        from.setPrefColumnCount(8);
        from.setAccessibleText(Labels.of("transfer.from"));
        on = new NameField(
                "transfer-on",
                () -> Arrays.stream(BodyRegion.values()).map(BodyRegion::code).toList());
        on.setPrefColumnCount(12);
        on.setPromptText(Labels.of("transfer.on.found"));
        on.setAccessibleText(Labels.of("transfer.on"));
        trade = new TradeSlider(desk, this::transferred);
        eitherSide.setId("transfer-either");
        onlyChosen.setId("bind-only");
        alone.setId("bind-alone");
        Tips.say(alone, Labels.of("bind.alone.why"));
        bind = new VBox(
                6,
                part,
                onlyChosen,
                line("bind.joints", joints, "bind.without", without),
                Widgets.choices("bind-how", "bind.how", VolumeBind.How.values(), how),
                line("bind.softness", softness, "bind.radius", radius),
                alone,
                new StepRow(desk, "bind-preview")
                        .also("bind-volume", "bind.volume", this::byVolume)
                        .also("bind-near", "bind.near", this::byNearness));
        transfer = new VBox(
                6,
                Widgets.labelled("transfer.to", toPart),
                line("transfer.from", from, null, null),
                line("transfer.on", on, null, null),
                line("transfer.reach", reach, "transfer.degrees", degrees),
                eitherSide,
                new OriginList(desk, () -> transferred(trade.value()), on),
                trade,
                new StepRow(desk, "transfer-preview")
                        .also("transfer", "transfer.act", () -> transferred(trade.value())));
        sides = new VBox(
                6,
                Widgets.labelled("part.choice", sidesPart),
                Widgets.choices("mirror-from", "mirror.from", MirrorWeights.From.values(), side),
                line("mirror.tolerance", tolerance, "side.band", band),
                new StepRow(desk, "sides-preview")
                        .also("mirror-weights", "mirror.act", this::mirrored)
                        .also("clean-sides", "side.act", this::cleaned),
                Widgets.row(Widgets.button("mirror-unmatched", "mirror.unmatched", this::showUnmatched)));
        limits = new VBox(
                6,
                Widgets.row(Widgets.button("show-price", "limit.price", desk::findPrice)),
                new StepRow(desk, "limits-preview")
                        .also(
                                "limit",
                                "skin.limit",
                                () -> new LimitInfluences(
                                        "", desk.target().get().influences(), 0))
                        .also(
                                "limit-effect",
                                "limit.effect",
                                () -> new LimitInfluences(
                                        "", desk.target().get().influences(), 0, LimitInfluences.By.EFFECT))
                        .also(
                                "limit-smooth",
                                "limit.smooth",
                                () -> new LimitInfluences(
                                        "", desk.target().get().influences(), 0, LimitInfluences.By.SMOOTH))
                        .also("quantise", "limit.quantise", () -> new QuantiseWeights("", 8))
                        .also(
                                "weld-weights",
                                "limit.weld",
                                () -> new WeldWeights(
                                        Math.max(desk.target().get().influences(), 1))));
    }

    private static TextField field(String id, String value, int columns) {
        TextField field = new TextField(value);
        field.setId(id);
        field.setPrefColumnCount(columns);
        field.setAccessibleText(Labels.of(id.replace('-', '.')));
        return field;
    }

    private static HBox line(String key, TextField one, String other, TextField two) {
        HBox row = new HBox(6, new Label(Labels.of(key)), one);
        if (two != null) {
            row.getChildren().addAll(new Label(Labels.of(other)), two);
        }
        row.getChildren().forEach(n -> {
            if (n instanceof Label label) {
                label.setMinWidth(HBox.USE_PREF_SIZE);
            }
        });
        row.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        return row;
    }

    VBox bind() {
        return bind;
    }

    VBox transfer() {
        return transfer;
    }

    VBox sides() {
        return sides;
    }

    VBox limits() {
        return limits;
    }

    void refresh() {
        part.refresh();
        toPart.refresh();
        sidesPart.refresh();
        String to = part.node()
                .filter(n -> n.mesh() >= 0)
                .map(n -> desk.now().meshRef(n.mesh()))
                .orElse("");
        from.setPromptText(giver(to).orElse(""));
        boolean any = !desk.selection().chosen().get().isEmpty();
        onlyChosen.setDisable(!any);
        if (!any) {
            onlyChosen.setSelected(false);
        }
    }

    private String mesh() throws StepRow.Unclear {
        part.one();
        int mesh = part.node().map(n -> n.mesh()).orElse(-1);
        if (mesh < 0) {
            throw new StepRow.Unclear("part.none");
        }
        return desk.now().meshRef(mesh);
    }

    /** All of the part, or what is chosen on it. */
    private VertexSet vertices() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        boolean own = part.node().map(n -> n.mesh()).orElse(-1) == chosen.mesh();
        return onlyChosen.isSelected() && own && !chosen.isEmpty()
                ? VertexSet.chosen(desk.now().meshes().get(chosen.mesh()), chosen.vertices())
                : VertexSet.ALL;
    }

    private static double number(TextField field) throws StepRow.Unclear {
        OptionalDouble value = Lengths.number(field.getText());
        if (value.isEmpty()) {
            throw new StepRow.Unclear("number.bad", field.getText());
        }
        return value.getAsDouble();
    }

    private int most() {
        return Math.max(1, desk.target().get().influences());
    }

    private BindVolume byVolume() throws StepRow.Unclear {
        return new BindVolume(
                mesh(),
                vertices(),
                joints.getText(),
                without.getText(),
                how.get(),
                number(softness),
                most(),
                alone.isSelected());
    }

    private BindNear byNearness() throws StepRow.Unclear {
        return new BindNear(mesh(), vertices(), joints.getText(), without.getText(), number(radius), most());
    }

    /** Whose weights are taken where nobody is named. */
    private Optional<String> giver(String to) {
        return desk.now().meshes().stream()
                .filter(m -> m.skinned() && !m.name().equals(to))
                .findFirst()
                .map(Mesh::name);
    }

    private TransferWeights transferred(double tradeOff) throws StepRow.Unclear {
        String to = mesh();
        String source = from.getText().strip();
        if (source.isEmpty()) {
            source = giver(to).orElseThrow(() -> new StepRow.Unclear("transfer.none"));
        }
        Selection.Chosen chosen = desk.selection().chosen().get();
        boolean onSource =
                !chosen.isEmpty() && source.equals(desk.now().meshRef(chosen.mesh())) && onlyChosen.isSelected();
        return new TransferWeights(
                source,
                to,
                vertices(),
                number(reach),
                number(degrees),
                eitherSide.isSelected(),
                joints.getText(),
                number(degrees) > 0 ? SMOOTH_FILL : most(),
                onSource ? VertexSet.chosen(desk.now().meshes().get(chosen.mesh()), chosen.vertices()) : VertexSet.ALL,
                on.getText().strip(),
                true,
                tradeOff);
    }

    /** Finds vertices of a part, which may be refused. */
    private interface Finder {
        BitSet find(Asset asset, Work work) throws Refused;
    }

    /** Chooses the vertices whose mirror image lies nowhere. */
    private void showUnmatched() {
        try {
            MirrorWeights step = mirrored();
            show(step.mesh(), (asset, w) -> step.unmatched(asset), "mirror.unmatched.said");
        } catch (StepRow.Unclear e) {
            desk.jobs().message().set(e.getMessage());
        }
    }

    private void show(String part, Finder finder, String key) {
        Asset asset = desk.now();
        int mesh = asset.findMesh(part);
        desk.jobs()
                .study(
                        w -> {
                            try {
                                return finder.find(asset, w);
                            } catch (Refused e) {
                                return new BitSet();
                            }
                        },
                        found -> {
                            if (asset == desk.now()) {
                                desk.selection().choose(mesh, found);
                                desk.jobs().message().set(Labels.of(key, found.cardinality()));
                            }
                        });
    }

    private MirrorWeights mirrored() throws StepRow.Unclear {
        return new MirrorWeights(
                mesh(),
                side.get(),
                vertices(),
                number(tolerance),
                desk.selection().lockedJoints());
    }

    private CleanSides cleaned() throws StepRow.Unclear {
        return new CleanSides(mesh(), vertices(), number(band), desk.selection().lockedJoints());
    }
}
