package org.cleanmarrow.desktop.station.skin;

import java.util.BitSet;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BiFunction;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.TextField;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.Chooser;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.query.VertexChoice;
import org.cleanmarrow.surface.MeshTopology;

/** What can be done with a selection itself. */
final class ChoiceSection {
    private final Desk desk;
    private final ViewportPane viewport;
    private final TextField keepAs = new TextField();
    private final FlowPane changes;
    private final FlowPane named;
    private final VBox choice;

    ChoiceSection(Desk desk, ViewportPane viewport) {
        this.desk = desk;
        this.viewport = viewport;
        Chooser chooser = viewport.chooser();
        changes = Widgets.row(
                changer("grow", MeshTopology::grown),
                changer("shrink", MeshTopology::shrunk),
                Widgets.button("invert", "skin.invert", () -> change(VertexChoice::inverted)),
                Widgets.button("mirror-choice", "skin.mirror", this::mirror),
                changer("whole-island", MeshTopology::islandsOf),
                Widgets.button("same-material", "skin.material", () -> change(VertexChoice::sameMaterial)),
                Widgets.button(
                        "choose-none",
                        "skin.choose.none",
                        () -> desk.selection().choose(-1, new BitSet())));
        changes.getChildren().forEach(b -> b.getStyleClass().add("small"));
        CheckBox seen = new CheckBox(Labels.of("skin.seen"));
        seen.setId("seen-only");
        seen.selectedProperty().bindBidirectional(chooser.seenOnly());
        keepAs.setId("keep-as");
        keepAs.setPrefColumnCount(9);
        keepAs.setPromptText(Labels.of("skin.keep.name"));
        keepAs.setAccessibleText(Labels.of("skin.keep.name"));
        Button keep = Widgets.button("keep-choice", "skin.keep", () -> {
            desk.keepChoice(keepAs.getText().strip());
            keepAs.clear();
        });
        keep.disableProperty().bind(keepAs.textProperty().isEmpty());
        named = Widgets.row(keepAs, keep);
        choice = new VBox(4, changes, seen, named);
    }

    /** Changes of what is chosen. */
    VBox choice() {
        return choice;
    }

    void refresh() {
        boolean none = desk.selection().chosen().get().isEmpty();
        changes.getChildren().forEach(b -> b.setDisable(none));
        named.setDisable(none);
    }

    private Button changer(String id, BiFunction<MeshTopology, BitSet, BitSet> how) {
        return Widgets.button(id, "skin." + id, () -> change((mesh, set) -> how.apply(MeshTopology.of(mesh), set)));
    }

    private void change(BiFunction<Mesh, BitSet, BitSet> how) {
        int chosen = desk.selection().chosen().get().mesh();
        desk.rechoosing()
                .ask(chosen, (asset, mesh, set) -> how.apply(asset.meshes().get(mesh), set));
    }

    private void mirror() {
        int chosen = desk.selection().chosen().get().mesh();
        double tolerance = viewport.mirrorTolerance();
        AtomicInteger unmatched = new AtomicInteger();
        desk.rechoosing()
                .ask(
                        chosen,
                        (asset, mesh, set) -> {
                            VertexChoice.Mirrored found = VertexChoice.mirrored(asset, mesh, set, tolerance);
                            unmatched.set(found.unmatched());
                            return found.vertices();
                        },
                        () -> {
                            if (unmatched.get() > 0) {
                                desk.jobs().message().set(Labels.of("skin.mirror.unmatched", unmatched.get()));
                            }
                        });
    }
}
