package org.cleanmarrow.desktop.station;

import java.util.BitSet;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.BiFunction;
import javafx.animation.PauseTransition;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.util.Duration;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.desk.Paint;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.VertexChoice;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.steps.GiveStrays;
import org.cleanmarrow.steps.LimitInfluences;
import org.cleanmarrow.steps.NormaliseWeights;
import org.cleanmarrow.steps.SetWeight;
import org.cleanmarrow.steps.TakeOffJoint;

/** The loop of the skin: choose a joint, choose vertices, change, look. What an act would do is said beforehand. */
final class SkinCard extends StationCard {
    private final ViewportPane viewport;
    private final PauseTransition wait = new PauseTransition(Duration.millis(180));
    private final Label preview = Parts.sentence("");
    private final TextField weight = new TextField("0.50");
    private final TextField over = new TextField("0");
    private final TextField keepAs = new TextField();

    private final InfluenceSection influences;
    private final BrushSection brush;
    private final TrialSection trials;
    private final BindSection bind;

    SkinCard(Desk desk, ViewportPane viewport) {
        super(desk);
        this.viewport = viewport;
        influences = new InfluenceSection(desk);
        brush = new BrushSection(desk, viewport);
        trials = new TrialSection(desk);
        bind = new BindSection(desk);
        preview.setId("preview");
        weight.setId("weight");
        weight.setPrefColumnCount(4);
        weight.setAccessibleText(Words.of("skin.weight"));
        over.setId("over");
        over.setPrefColumnCount(3);
        over.setAccessibleText(Words.of("skin.over"));
        keepAs.setId("keep-as");
        keepAs.setPrefColumnCount(9);
        keepAs.setPromptText(Words.of("skin.keep.name"));
        keepAs.setAccessibleText(Words.of("skin.keep.name"));
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
                        ? Words.of("skin.none")
                        : Words.of(
                                "skin.chosen",
                                chosen.vertices().cardinality(),
                                Parts.shortened(
                                        asset.meshes().get(chosen.mesh()).name())));
        fillChoose(chosen);
        fillInfluence(chosen, asset);
        fillChoice(chosen);
        heading("skin.moved.by");
        influences.refresh();
        getChildren().add(influences);
        heading("skin.even");
        getChildren().add(influences.even());
        heading("skin.brush");
        getChildren().add(brush);
        heading("skin.trial");
        trials.refresh();
        getChildren().add(trials);
        heading("skin.bind");
        bind.refresh();
        getChildren().add(bind.bind());
        heading("skin.transfer");
        getChildren().add(bind.transfer());
        heading("skin.sides");
        getChildren().add(bind.sides());
        heading("skin.whole");
        var strays = Parts.button("give-strays", "skin.strays", () -> desk.apply(new GiveStrays("", Optional.empty())));
        var sums = Parts.button("normalise", "skin.normalise", () -> desk.apply(new NormaliseWeights("")));
        int most = desk.target().get().influences();
        var limit = Parts.button("limit", "skin.limit", () -> desk.apply(new LimitInfluences("", most, 0)));
        limit.setText(Words.of("skin.limit", most));
        getChildren().addAll(Parts.row(strays, sums, limit), bind.limits());
    }

    private void fillChoose(Desk.Chosen chosen) {
        heading("skin.choose");
        Chooser chooser = viewport.chooser();
        getChildren()
                .addAll(
                        Parts.choices("tool", "skin.tool", Chooser.Reach.values(), chooser.reach()),
                        Parts.choices("drag", "skin.drag", Chooser.Gesture.values(), chooser.gesture()));
    }

    /** What can be done with the choice itself. */
    private void fillChoice(Desk.Chosen chosen) {
        heading("skin.choice");
        Chooser chooser = viewport.chooser();
        CheckBox seen = new CheckBox(Words.of("skin.seen"));
        seen.setId("seen-only");
        seen.selectedProperty().bindBidirectional(chooser.seenOnly());
        FlowPane more = Parts.row(
                changer("grow", MeshTopology::grown),
                changer("shrink", MeshTopology::shrunk),
                Parts.button("invert", "skin.invert", () -> change(VertexChoice::inverted)),
                Parts.button("mirror-choice", "skin.mirror", this::mirror),
                changer("whole-shell", MeshTopology::shellsOf),
                Parts.button("same-material", "skin.material", () -> change(VertexChoice::sameMaterial)),
                Parts.button("choose-none", "skin.choose.none", () -> desk.choose(-1, new BitSet())));
        more.getChildren().forEach(b -> b.setDisable(chosen.isEmpty()));
        more.getChildren().forEach(b -> b.getStyleClass().add("small"));
        Button keep = Parts.button("keep-choice", "skin.keep", () -> {
            desk.keepChoice(keepAs.getText().strip());
            keepAs.clear();
        });
        keep.disableProperty().bind(keepAs.textProperty().isEmpty());
        FlowPane named = Parts.row(keepAs, keep);
        named.setDisable(chosen.isEmpty());
        getChildren().addAll(more, seen, named);
    }

    private Button changer(String id, BiFunction<MeshTopology, BitSet, BitSet> how) {
        return Parts.button(id, "skin." + id, () -> change((mesh, set) -> how.apply(MeshTopology.of(mesh), set)));
    }

    private void change(BiFunction<Mesh, BitSet, BitSet> how) {
        Desk.Chosen chosen = desk.chosen().get();
        Mesh mesh = desk.now().meshes().get(chosen.mesh());
        desk.choose(chosen.mesh(), how.apply(mesh, chosen.vertices()));
    }

    private void mirror() {
        Desk.Chosen chosen = desk.chosen().get();
        VertexChoice.Mirrored found =
                VertexChoice.mirrored(desk.now(), chosen.mesh(), chosen.vertices(), viewport.mirrorTolerance());
        desk.choose(chosen.mesh(), found.vertices());
        if (found.unmatched() > 0) {
            desk.message().set(Words.of("skin.mirror.unmatched", found.unmatched()));
        }
    }

    /** Chooses what the joint moves by more than the weight asked for, on the mesh that is worked on. */
    private void chooseMoved() {
        Asset asset = desk.now();
        OptionalDouble least = Lengths.number(over.getText());
        if (least.isEmpty() || desk.jointNode() < 0) {
            preview.setText(Words.of("skin.weight.bad", over.getText()));
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
        Label joint = node < 0
                ? Parts.sentence(Words.of("skin.no.joint"))
                : Parts.name(asset.nodes().get(node).name());
        joint.setTooltip(node < 0 ? null : new Tooltip(asset.nodes().get(node).name()));
        getChildren().add(joint);
        boolean ready = !chosen.isEmpty() && node >= 0 && asset.skinOfMesh(chosen.mesh()) >= 0;
        var off = Parts.mainButton("take-off", "skin.takeoff", () -> takeOff().ifPresent(desk::apply));
        var set = Parts.button("set-weight", "skin.set", () -> setWeight().ifPresent(desk::apply));
        off.setDisable(!ready);
        set.setDisable(!ready);
        weight.setDisable(!ready);
        var moved = Parts.button("choose-moved", "skin.moved", this::chooseMoved);
        moved.setDisable(node < 0);
        over.setDisable(node < 0);
        getChildren().add(Parts.row(off, set, weight));
        preview.setText(ready ? Words.of("skin.preview.wait") : Words.of("skin.preview.choose"));
        var compare = Parts.button("compare-joint", "skin.compare", () -> {
            desk.compared().set(desk.joint().get());
            desk.seeing().paint().set(Paint.PAIR);
        });
        compare.setDisable(node < 0);
        getChildren().addAll(preview, Parts.row(moved, over, compare));
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
        return Optional.of(new TakeOffJoint(
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
            preview.setText(Words.of("skin.weight.bad", weight.getText()));
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
                            done.change().isEmpty()
                                    ? done.reason()
                                    : Words.of(
                                            "skin.preview",
                                            count,
                                            done.motion()
                                                    .map(Outcomes::movement)
                                                    .orElse(""))));
        });
    }
}
