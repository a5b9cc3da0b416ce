package org.cleanmarrow.desktop.station;

import java.util.Optional;
import java.util.OptionalDouble;
import javafx.animation.PauseTransition;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.util.Duration;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.steps.skin.AssignUnweighted;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;

/** The loop of the skin: choose a joint, choose vertices, change, look. What an act would do is said beforehand. */
final class SkinCard extends StationCard {
    private final ViewportPane viewport;
    private final PauseTransition wait = new PauseTransition(Duration.millis(180));
    private final Label ofWhat = Widgets.name("");
    private final Label preview = Widgets.sentence("");
    private final TextField weight = new TextField("0.50");
    private final TextField over = new TextField("0");
    private final FlowPane ofChoice;
    private final FlowPane ofJoint;
    private final Button limit;
    private final FlowPane whole;
    private final ChoiceSection choice;
    private final InfluenceSection influences;
    private final BrushSection brush;
    private final TrialSection trials;
    private final BindSection bind;

    SkinCard(Desk desk, ViewportPane viewport) {
        super(desk);
        this.viewport = viewport;
        choice = new ChoiceSection(desk, viewport);
        influences = new InfluenceSection(desk);
        brush = new BrushSection(desk, viewport);
        trials = new TrialSection(desk);
        bind = new BindSection(desk);
        preview.setId("preview");
        weight.setId("weight");
        weight.setPrefColumnCount(4);
        weight.setAccessibleText(Labels.of("skin.weight"));
        over.setId("over");
        over.setPrefColumnCount(3);
        over.setAccessibleText(Labels.of("skin.over"));
        ofChoice = Widgets.row(
                Widgets.mainButton("take-off", "skin.takeoff", () -> takeOff().ifPresent(desk::apply)),
                Widgets.button("set-weight", "skin.set", () -> setWeight().ifPresent(desk::apply)),
                weight);
        ofJoint = Widgets.row(
                Widgets.button("choose-moved", "skin.moved", this::chooseMoved),
                over,
                Widgets.button("compare-joint", "skin.compare", () -> {
                    desk.compared().set(desk.joint().get());
                    desk.seeing().paint().set(ShadingMode.PAIR);
                }));
        limit = Widgets.button(
                "limit",
                "skin.limit",
                () -> desk.apply(new LimitInfluences("", desk.target().get().influences(), 0)));
        whole = Widgets.row(
                Widgets.button(
                        "give-strays", "skin.strays", () -> desk.apply(new AssignUnweighted("", Optional.empty()))),
                Widgets.button("normalise", "skin.normalise", () -> desk.apply(new NormaliseWeights(""))),
                limit);
        wait.setOnFinished(e -> ask());
        desk.joint().addListener((o, a, b) -> chosenChanged());
        desk.chosen().addListener((o, a, b) -> chosenChanged());
    }

    private void chosenChanged() {
        if (getParent() != null) {
            refresh();
        }
    }

    @Override
    void fill() {
        Desk.Chosen chosen = desk.chosen().get();
        Asset asset = desk.now();
        title(
                "station.skin",
                chosen.isEmpty()
                        ? Labels.of("skin.none")
                        : Labels.of(
                                "skin.chosen",
                                chosen.vertices().cardinality(),
                                Widgets.shortened(
                                        asset.meshes().get(chosen.mesh()).name())));
        choice.refresh();
        heading("skin.choose");
        put(choice.tools());
        fillInfluence(chosen, asset);
        heading("skin.choice");
        put(choice.choice());
        heading("skin.moved.by");
        influences.refresh();
        put(influences);
        heading("skin.even");
        put(influences.even());
        heading("skin.brush");
        put(brush);
        heading("skin.trial");
        trials.refresh();
        put(trials);
        heading("skin.bind");
        bind.refresh();
        put(bind.bind());
        heading("skin.transfer");
        put(bind.transfer());
        heading("skin.sides");
        put(bind.sides());
        heading("skin.whole");
        limit.setText(Labels.of("skin.limit", desk.target().get().influences()));
        put(whole, bind.limits());
    }

    /** Chooses what the joint moves by more than the weight asked for, on the mesh that is worked on. */
    private void chooseMoved() {
        Asset asset = desk.now();
        OptionalDouble least = Lengths.number(over.getText());
        if (least.isEmpty() || desk.jointNode() < 0) {
            preview.setText(Labels.of("skin.weight.bad", over.getText()));
            return;
        }
        int chosen = desk.chosen().get().mesh();
        int mesh = chosen >= 0
                ? chosen
                : desk.workedMesh().map(asset.meshes()::indexOf).orElse(-1);
        int skin = mesh < 0 ? -1 : asset.skinOfMesh(mesh);
        int joint = skin < 0 ? -1 : asset.skins().get(skin).indexOfNode(desk.jointNode());
        if (joint >= 0) {
            desk.choose(mesh, VertexChoice.moved(asset.meshes().get(mesh), joint, least.getAsDouble()));
        }
    }

    private void fillInfluence(Desk.Chosen chosen, Asset asset) {
        int node = desk.jointNode();
        heading("skin.influence");
        String name = node < 0 ? "" : asset.nodes().get(node).name();
        ofWhat.setText(node < 0 ? Labels.of("skin.no.joint") : name);
        ofWhat.setTooltip(node < 0 ? null : new Tooltip(name));
        boolean ready = !chosen.isEmpty() && node >= 0 && asset.skinOfMesh(chosen.mesh()) >= 0;
        ofChoice.setDisable(!ready);
        ofJoint.setDisable(node < 0);
        preview.setText(ready ? Labels.of("skin.preview.wait") : Labels.of("skin.preview.choose"));
        put(ofWhat, ofChoice, preview, ofJoint);
        if (ready && desk.looking() == desk.history().done().size()) {
            wait.playFromStart();
        }
    }

    private Optional<Step> takeOff() {
        Desk.Chosen chosen = desk.chosen().get();
        Asset asset = desk.now();
        if (chosen.isEmpty() || desk.jointNode() < 0) {
            return Optional.empty();
        }
        Mesh mesh = asset.meshes().get(chosen.mesh());
        return Optional.of(new RemoveInfluence(
                asset.meshRef(chosen.mesh()),
                desk.joint().get(),
                VertexSet.chosen(mesh, chosen.vertices()),
                Optional.empty(),
                desk.lockedJoints()));
    }

    private Optional<Step> setWeight() {
        Desk.Chosen chosen = desk.chosen().get();
        Asset asset = desk.now();
        OptionalDouble value = Lengths.number(weight.getText());
        if (value.isEmpty()) {
            preview.setText(Labels.of("skin.weight.bad", weight.getText()));
            return Optional.empty();
        }
        Mesh mesh = asset.meshes().get(chosen.mesh());
        return Optional.of(new SetWeight(
                asset.meshRef(chosen.mesh()),
                desk.joint().get(),
                VertexSet.chosen(mesh, chosen.vertices()),
                value.getAsDouble(),
                desk.lockedJoints()));
    }

    private void ask() {
        takeOff().ifPresent(step -> {
            int count = desk.chosen().get().vertices().cardinality();
            desk.preview(
                    step,
                    done -> preview.setText(
                            done.outcome().isEmpty()
                                    ? desk.outcomes().sentence(done)
                                    : Labels.of(
                                            "skin.preview",
                                            count,
                                            done.motion()
                                                    .map(desk.outcomes()::movement)
                                                    .orElse(""))));
        });
    }
}
