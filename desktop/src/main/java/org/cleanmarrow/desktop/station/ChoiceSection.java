package org.cleanmarrow.desktop.station;

import java.util.BitSet;
import java.util.function.BiFunction;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.VertexChoice;

/** How vertices are chosen, and what can be done with a choice itself. */
final class ChoiceSection {
    private final Desk desk;
    private final ViewportPane viewport;
    private final TextField keepAs = new TextField();
    private final VBox tools;
    private final FlowPane changes;
    private final FlowPane named;
    private final VBox choice;

    ChoiceSection(Desk desk, ViewportPane viewport) {
        this.desk = desk;
        this.viewport = viewport;
        Chooser chooser = viewport.chooser();
        tools = new VBox(
                4,
                Parts.choices("tool", "skin.tool", Chooser.Reach.values(), chooser.reach()),
                Parts.choices("drag", "skin.drag", Chooser.Gesture.values(), chooser.gesture()));
        changes = Parts.row(
                changer("grow", MeshTopology::grown),
                changer("shrink", MeshTopology::shrunk),
                Parts.button("invert", "skin.invert", () -> change(VertexChoice::inverted)),
                Parts.button("mirror-choice", "skin.mirror", this::mirror),
                changer("whole-shell", MeshTopology::shellsOf),
                Parts.button("same-material", "skin.material", () -> change(VertexChoice::sameMaterial)),
                Parts.button("choose-none", "skin.choose.none", () -> desk.choose(-1, new BitSet())));
        changes.getChildren().forEach(b -> b.getStyleClass().add("small"));
        CheckBox seen = new CheckBox(Words.of("skin.seen"));
        seen.setId("seen-only");
        seen.selectedProperty().bindBidirectional(chooser.seenOnly());
        keepAs.setId("keep-as");
        keepAs.setPrefColumnCount(9);
        keepAs.setPromptText(Words.of("skin.keep.name"));
        keepAs.setAccessibleText(Words.of("skin.keep.name"));
        Button keep = Parts.button("keep-choice", "skin.keep", () -> {
            desk.keepChoice(keepAs.getText().strip());
            keepAs.clear();
        });
        keep.disableProperty().bind(keepAs.textProperty().isEmpty());
        named = Parts.row(keepAs, keep);
        choice = new VBox(4, changes, seen, named);
    }

    /** What a pick takes and a drag draws. */
    VBox tools() {
        return tools;
    }

    /** Changes of what is chosen. */
    VBox choice() {
        return choice;
    }

    void refresh() {
        boolean none = desk.chosen().get().isEmpty();
        changes.getChildren().forEach(b -> b.setDisable(none));
        named.setDisable(none);
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
}
