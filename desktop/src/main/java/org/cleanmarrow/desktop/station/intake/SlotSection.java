package org.cleanmarrow.desktop.station.intake;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import javafx.scene.control.ListView;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.steps.intake.MergeMaterials;
import org.cleanmarrow.steps.intake.OrderMaterials;
import org.cleanmarrow.steps.intake.Rename;

/** Materials in their order: moved, renamed, made fewer, or as those of another file. */
final class SlotSection extends VBox {
    private static final int ROW = 22;
    private static final int MOST_ROWS = 6;

    private final Desk desk;
    private final ListView<Slot> materials = new ListView<>();
    private final TextField name = CombineSection.field("slot-name", "slots.name", "");
    private Asset listed;

    /** A material and what is said of it. */
    private record Slot(String name, String said) {
        @Override
        public String toString() {
            return said;
        }
    }

    SlotSection(Desk desk, FileDialogs dialogs) {
        super(6);
        this.desk = desk;
        materials.setId("slots");
        materials.setAccessibleText(Labels.of("slots"));
        materials.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        materials.setFixedCellSize(ROW);
        materials.getStyleClass().add("mono");
        StepRow acts = new StepRow(desk, "slots-preview")
                .also("slot-up", "slots.up", () -> moved(-1))
                .also("slot-down", "slots.down", () -> moved(1))
                .also("slots-merge", "slots.merge", this::merged)
                .also("slot-rename", "slots.rename", this::renamed);
        getChildren()
                .addAll(
                        materials,
                        name,
                        acts,
                        Widgets.row(Widgets.button(
                                "slots-from",
                                "slots.from",
                                () -> dialogs.like("dialog.materials", desk.files()::materialsFrom))));
    }

    void refresh() {
        Asset now = desk.now();
        Optional<List<Slot>> slots = desk.facts().of("slots", now, w -> slots(now));
        if (now == listed || slots.isEmpty()) {
            return;
        }
        listed = now;
        List<String> chosen = names(materials.getSelectionModel().getSelectedItems());
        materials.getItems().setAll(slots.get());
        materials.getSelectionModel().clearSelection();
        for (int i = 0; i < slots.get().size(); i++) {
            if (chosen.contains(slots.get().get(i).name)) {
                materials.getSelectionModel().select(i);
            }
        }
        materials.setPrefHeight(Math.clamp(slots.get().size(), 1, MOST_ROWS) * ROW + 4);
    }

    private static List<String> names(List<Slot> slots) {
        return slots.stream().map(Slot::name).toList();
    }

    private static List<Slot> slots(Asset asset) {
        int[] parts = new int[asset.materials().size()];
        long[] triangles = new long[parts.length];
        for (Mesh mesh : asset.meshes()) {
            BitSet painting = new BitSet();
            for (Primitive p : mesh.primitives()) {
                if (p.material() >= 0) {
                    painting.set(p.material());
                    triangles[p.material()] += p.triangleCorners().length / 3;
                }
            }
            painting.stream().forEach(m -> parts[m]++);
        }
        return IntStream.range(0, parts.length)
                .mapToObj(m -> {
                    String name = asset.materials().get(m).name();
                    return new Slot(name, Labels.of("slots.row", name, parts[m], triangles[m]));
                })
                .toList();
    }

    private List<String> chosen() throws StepRow.Unclear {
        List<String> chosen = names(materials.getSelectionModel().getSelectedItems());
        if (chosen.isEmpty()) {
            throw new StepRow.Unclear("slots.choose");
        }
        return chosen;
    }

    /** All materials, the chosen ones a place further to the front or the back. */
    private OrderMaterials moved(int by) throws StepRow.Unclear {
        List<String> chosen = chosen();
        List<String> all = new ArrayList<>(names(materials.getItems()));
        List<Integer> places = chosen.stream().map(all::indexOf).sorted().toList();
        for (int place : by < 0 ? places : places.reversed()) {
            int to = place + by;
            if (to < 0 || to >= all.size()) {
                throw new StepRow.Unclear("slots.end");
            }
            all.add(to, all.remove(place));
        }
        return new OrderMaterials(all);
    }

    private MergeMaterials merged() throws StepRow.Unclear {
        List<String> chosen = chosen();
        if (chosen.size() < 2) {
            throw new StepRow.Unclear("slots.two");
        }
        // The first in the order stays, whatever was clicked first.
        List<String> sorted =
                names(materials.getItems()).stream().filter(chosen::contains).toList();
        return new MergeMaterials(sorted.subList(1, sorted.size()), sorted.getFirst());
    }

    private Rename renamed() throws StepRow.Unclear {
        List<String> chosen = chosen();
        if (chosen.size() != 1 || name.getText().isBlank()) {
            throw new StepRow.Unclear("slots.name.one");
        }
        return new Rename(
                Rename.Kind.MATERIAL, chosen.getFirst(), name.getText().strip());
    }
}
