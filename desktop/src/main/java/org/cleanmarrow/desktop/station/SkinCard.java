package org.cleanmarrow.desktop.station;

import java.util.BitSet;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BiFunction;
import javafx.animation.PauseTransition;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.util.Duration;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Outcomes;
import org.cleanmarrow.desktop.desk.Paint;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.geometry.MeshTopology;
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

    SkinCard(Desk desk, ViewportPane viewport) {
        super(desk);
        this.viewport = viewport;
        preview.setId("preview");
        weight.setId("weight");
        weight.setPrefColumnCount(4);
        weight.setAccessibleText(Words.of("skin.weight"));
        wait.setOnFinished(e -> ask());
        desk.joint().addListener((o, a, b) -> chosenChanged());
        desk.chosen().addListener((o, a, b) -> chosenChanged());
        desk.paint().addListener((o, a, b) -> chosenChanged());
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
                                asset.meshes().get(chosen.mesh()).name()));
        heading("skin.see");
        ToggleGroup paints = new ToggleGroup();
        var see = Parts.row();
        for (Paint paint : Paint.values()) {
            ToggleButton button = toggle(
                    "paint-" + paint.name().toLowerCase(Locale.ROOT),
                    "skin.paint." + paint.name().toLowerCase(Locale.ROOT),
                    paints);
            button.setSelected(desk.paint().get() == paint);
            button.setOnAction(e -> {
                desk.paint().set(paint);
                button.setSelected(true);
            });
            see.getChildren().add(button);
        }
        getChildren().add(see);
        fillChoose(chosen);
        fillInfluence(chosen, asset);
        heading("skin.whole");
        var strays = Parts.button("give-strays", "skin.strays", () -> desk.apply(new GiveStrays("", Optional.empty())));
        var sums = Parts.button("normalise", "skin.normalise", () -> desk.apply(new NormaliseWeights("")));
        int most = desk.target().get().influences();
        var limit = Parts.button("limit", "skin.limit", () -> desk.apply(new LimitInfluences("", most, 0)));
        limit.setText(Words.of("skin.limit", most));
        getChildren().add(Parts.row(strays, sums, limit));
    }

    private static ToggleButton toggle(String id, String key, ToggleGroup group) {
        ToggleButton button = new ToggleButton(Words.of(key));
        button.setId(id);
        button.setToggleGroup(group);
        return button;
    }

    private void fillChoose(Desk.Chosen chosen) {
        heading("skin.choose");
        ToggleGroup tools = new ToggleGroup();
        var row = Parts.row();
        for (ViewportPane.Tool tool : ViewportPane.Tool.values()) {
            String name = tool.name().toLowerCase(Locale.ROOT);
            ToggleButton button = toggle("tool-" + name, "skin.tool." + name, tools);
            button.setSelected(viewport.tool().get() == tool);
            button.setOnAction(e -> {
                viewport.tool().set(tool);
                button.setSelected(true);
            });
            row.getChildren().add(button);
        }
        var grow = Parts.button("grow", "skin.grow", () -> change(MeshTopology::grown));
        var shrink = Parts.button("shrink", "skin.shrink", () -> change(MeshTopology::shrunk));
        var shell = Parts.button("whole-shell", "skin.whole.shell", () -> change(MeshTopology::shellsOf));
        var none = Parts.button("choose-none", "skin.choose.none", () -> desk.choose(-1, new BitSet()));
        for (var button : new javafx.scene.control.Button[] {grow, shrink, shell, none}) {
            button.setDisable(chosen.isEmpty());
        }
        row.getChildren().addAll(grow, shrink, shell, none);
        CheckBox seen = new CheckBox(Words.of("skin.seen"));
        seen.setId("seen-only");
        seen.setSelected(viewport.seenOnly().get());
        seen.selectedProperty().addListener((o, a, b) -> viewport.seenOnly().set(b));
        getChildren().addAll(row, seen);
    }

    private void change(BiFunction<MeshTopology, BitSet, BitSet> how) {
        Desk.Chosen chosen = desk.chosen().get();
        Mesh mesh = desk.now().meshes().get(chosen.mesh());
        desk.choose(chosen.mesh(), how.apply(MeshTopology.of(mesh), chosen.vertices()));
    }

    private void fillInfluence(Desk.Chosen chosen, Asset asset) {
        int node = desk.jointNode();
        heading("skin.influence");
        Label joint = new Label(
                node < 0 ? Words.of("skin.no.joint") : asset.nodes().get(node).name());
        joint.getStyleClass().add(node < 0 ? "ink-2" : "mono");
        joint.setWrapText(true);
        getChildren().add(joint);
        boolean ready = !chosen.isEmpty() && node >= 0 && asset.skinOfMesh(chosen.mesh()) >= 0;
        var off = Parts.mainButton("take-off", "skin.takeoff", () -> takeOff().ifPresent(desk::apply));
        var set = Parts.button("set-weight", "skin.set", () -> setWeight().ifPresent(desk::apply));
        off.setDisable(!ready);
        set.setDisable(!ready);
        weight.setDisable(!ready);
        getChildren().add(Parts.row(off, set, weight));
        preview.setText(ready ? Words.of("skin.preview.wait") : Words.of("skin.preview.choose"));
        getChildren().add(preview);
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
                Optional.empty()));
    }

    private Optional<Step> setWeight() {
        Desk.Chosen chosen = desk.chosen().get();
        Asset asset = desk.now();
        try {
            double value = Double.parseDouble(weight.getText().strip().replace(',', '.'));
            Mesh mesh = asset.meshes().get(chosen.mesh());
            return Optional.of(new SetWeight(
                    asset.meshRef(chosen.mesh()),
                    desk.joint().get(),
                    VertexSet.chosen(mesh, chosen.vertices()),
                    value));
        } catch (NumberFormatException e) {
            preview.setText(Words.of("skin.weight.bad", weight.getText()));
            return Optional.empty();
        }
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
