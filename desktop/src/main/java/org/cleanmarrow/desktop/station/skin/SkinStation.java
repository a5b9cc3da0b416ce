package org.cleanmarrow.desktop.station.skin;

import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Brush;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;

/** Which joint moves which vertex, and how much of it. */
public final class SkinStation extends StationDef {
    private final Label held = Widgets.name("");
    private final TextField weight = new TextField("0.00");
    private final Button set;
    private final Button remove;
    private final HBox ofSelection;
    private final WeightPaint paint = new WeightPaint();
    private final BrushTray brush;
    private final ViewportPane viewport;
    private final TextField over = new TextField("0");
    private Selection.Chosen foretold;
    private int foretoldJoint = -1;

    public SkinStation(Desk desk, ViewportPane viewport) {
        super(Station.SKIN, desk);
        this.viewport = viewport;
        ChoiceSection choice = new ChoiceSection(desk, viewport);
        InfluenceSection influences = new InfluenceSection(desk);
        TrialSection trials = new TrialSection(desk);
        ThroughSection through = new ThroughSection(desk, viewport);
        BindSection bind = new BindSection(desk);
        DressSection dress = new DressSection(desk);
        RegionSection regions = new RegionSection(desk);
        over.setId("over");
        over.setPrefColumnCount(3);
        over.setAccessibleText(Labels.of("skin.over"));
        StepRow strays = new StepRow(desk, "strays-preview")
                .also("give-strays", "skin.strays", () -> new AssignUnweighted("", Optional.empty()))
                .also("normalise", "skin.normalise", () -> new NormaliseWeights(""));
        List<Act> acts = List.of(
                new Act("skin-selection", choice.choice())
                        .refreshing(choice::refresh)
                        .says(() -> selected() == 0 ? "" : Labels.of("skin.selected", selected())),
                new Act("skin-joint", ofJoint()).says(() -> Widgets.shortened(joint())),
                new Act("skin-weights", influences)
                        .refreshing(influences::refresh)
                        .says(() -> selected() == 0 ? "" : Labels.of("skin.rows", selected())),
                new Act("skin-smooth", influences.even()),
                new Act("skin-copy", influences.copying()).says(influences::copied),
                new Act("skin-brush", new BrushSection(desk, viewport, paint)),
                new Act("skin-trial", trials).refreshing(trials::refresh).says(trials::worst),
                new Act("skin-through", through).refreshing(through::refresh).says(through::fact),
                new Act("skin-bind", bind.bind()).refreshing(bind::refresh),
                new Act("skin-dress", dress).refreshing(dress::refresh),
                new Act("skin-regions", regions).refreshing(regions::refresh).says(regions::fact),
                new Act("skin-transfer", bind.transfer()).refreshing(bind::refresh),
                new Act("skin-sides", bind.sides()).refreshing(bind::refresh),
                new Act("skin-limit", bind.limits())
                        .refreshing(bind::refresh)
                        .says(() ->
                                Labels.of("skin.at.most", desk.target().get().influences())),
                new Act("skin-strays", strays).says(this::unweighted),
                StepsAct.of(desk, "skin-steps", "skin"));
        held.setId("joint-in-hand");
        held.setMinWidth(30);
        held.setPrefWidth(118);
        held.getStyleClass().add("in-hand");
        HBox.setHgrow(held, Priority.SOMETIMES);
        weight.setId("weight");
        weight.setPrefWidth(48);
        weight.setMinWidth(44);
        weight.setAccessibleText(Labels.of("skin.weight"));
        set = Widgets.button("set-weight", "skin.set", () -> setWeight().ifPresent(desk::apply));
        remove = Widgets.mainButton("take-off", "skin.takeoff", () -> takeOff().ifPresent(desk::apply));
        weight.setOnAction(e -> set.fire());
        set.setMinWidth(Button.USE_PREF_SIZE);
        remove.setMinWidth(Button.USE_PREF_SIZE);
        ofSelection = new HBox(6, held, weight, set, remove);
        ofSelection.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        desk.foreteller().on(set, this::setWeight);
        desk.foreteller().on(remove, this::takeOff);
        brush = new BrushTray(viewport, paint);
        HBox.setHgrow(ofSelection, Priority.ALWAYS);
        HBox.setHgrow(brush, Priority.ALWAYS);
        viewport.chooser().gesture().addListener((o, a, b) -> showTray());
        desk.station().addListener((o, a, b) -> foretoldJoint = -2);
        showTray();
        consistOf(acts, List.of(ofSelection, brush), Piece.MOVERS, Piece.JOINTS, Piece.PARTS, Piece.NAMED);
    }

    @Override
    public Optional<Brush.Paint> paint() {
        return Optional.of(paint);
    }

    private Node[] ofJoint() {
        return new Node[] {
            Widgets.labelled("skin.over", over),
            Widgets.row(
                    Widgets.button("choose-moved", "skin.moved", this::chooseMoved),
                    Widgets.button("compare-joint", "skin.compare", () -> {
                        desk.selection().compared().set(desk.selection().joint().get());
                        desk.seeing().paint().set(ShadingMode.PAIR);
                    }))
        };
    }

    private void showTray() {
        boolean paints = viewport.chooser().gesture().get() == Chooser.Gesture.PAINT;
        brush.setVisible(paints);
        brush.setManaged(paints);
        ofSelection.setVisible(!paints);
        ofSelection.setManaged(!paints);
    }

    private int selected() {
        return desk.selection().chosen().get().vertices().cardinality();
    }

    private String joint() {
        return desk.selection().jointNode() < 0
                ? ""
                : desk.now().nodes().get(desk.selection().jointNode()).name();
    }

    private String unweighted() {
        long many = desk.findingsAt(Station.SKIN).stream()
                .filter(f -> f.check().equals("strays"))
                .count();
        return !desk.isExamined() ? "" : Labels.of(many == 0 ? "skin.strays.none" : "skin.strays.some");
    }

    @Override
    public String facts() {
        Asset asset = desk.now();
        long parts = asset.meshes().stream().filter(Mesh::skinned).count();
        int joints =
                asset.skins().stream().mapToInt(s -> s.joints().length).max().orElse(0);
        return Labels.of("skin.facts", parts, joints, desk.target().get().influences());
    }

    @Override
    public void refresh() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        int node = desk.selection().jointNode();
        String name = node < 0 ? Labels.of("skin.no.joint") : joint();
        held.setText(name);
        Tips.say(held, name);
        boolean bound = !chosen.isEmpty() && desk.now().skinOfMesh(chosen.mesh()) >= 0;
        boolean ready = bound && node >= 0;
        set.setDisable(!ready);
        remove.setDisable(!ready);
        weight.setDisable(!ready);
        if (foretold == chosen && foretoldJoint == node) {
            return;
        }
        foretold = chosen;
        foretoldJoint = node;
        if (ready) {
            desk.foreteller().askFor(this::takeOff, this::sayRemoval);
        } else {
            desk.foreteller().say(chosen.isEmpty() ? "" : Labels.of("skin.preview.choose"));
        }
    }

    private void sayRemoval(Replay.Done done) {
        desk.foreteller()
                .say(
                        done.outcome().isEmpty()
                                ? desk.outcomes().sentence(done)
                                : Labels.of(
                                        "skin.preview",
                                        joint(),
                                        selected(),
                                        done.motion()
                                                .map(desk.outcomes()::movement)
                                                .orElse("")));
    }

    /** Selects what the joint moves by more than the weight asked for, on the mesh that is worked on. */
    private void chooseMoved() {
        Asset asset = desk.now();
        OptionalDouble least = Lengths.number(over.getText());
        if (least.isEmpty() || desk.selection().jointNode() < 0) {
            desk.foreteller()
                    .say(least.isEmpty() ? Labels.of("skin.weight.bad", over.getText()) : Labels.of("skeleton.choose"));
            return;
        }
        int chosen = desk.selection().chosen().get().mesh();
        int mesh = chosen >= 0
                ? chosen
                : desk.selection().workedMesh().map(asset.meshes()::indexOf).orElse(-1);
        int skin = mesh < 0 ? -1 : asset.skinOfMesh(mesh);
        int joint = skin < 0
                ? -1
                : asset.skins().get(skin).indexOfNode(desk.selection().jointNode());
        if (joint >= 0) {
            desk.selection().choose(mesh, VertexChoice.moved(asset.meshes().get(mesh), joint, least.getAsDouble()));
        }
    }

    private Optional<Step> takeOff() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty() || desk.selection().jointNode() < 0) {
            return Optional.empty();
        }
        Asset asset = desk.now();
        Mesh mesh = asset.meshes().get(chosen.mesh());
        return Optional.of(new RemoveInfluence(
                asset.meshRef(chosen.mesh()),
                desk.selection().joint().get(),
                VertexSet.chosen(mesh, chosen.vertices()),
                Optional.empty(),
                desk.selection().lockedJoints()));
    }

    private Optional<Step> setWeight() {
        Selection.Chosen chosen = desk.selection().chosen().get();
        if (chosen.isEmpty() || desk.selection().jointNode() < 0) {
            return Optional.empty();
        }
        OptionalDouble value = Lengths.number(weight.getText());
        if (value.isEmpty() || value.getAsDouble() < 0 || value.getAsDouble() > 1) {
            desk.foreteller().say(Labels.of("skin.weight.bad", weight.getText()));
            return Optional.empty();
        }
        Asset asset = desk.now();
        Mesh mesh = asset.meshes().get(chosen.mesh());
        return Optional.of(new SetWeight(
                asset.meshRef(chosen.mesh()),
                desk.selection().joint().get(),
                VertexSet.chosen(mesh, chosen.vertices()),
                value.getAsDouble(),
                desk.selection().lockedJoints()));
    }
}
