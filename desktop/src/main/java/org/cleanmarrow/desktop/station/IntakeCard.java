package org.cleanmarrow.desktop.station;

import java.util.List;
import java.util.Locale;
import java.util.function.ToIntFunction;
import javafx.scene.control.ListView;
import org.cleanmarrow.demo.fault.PlantedFault;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/** What came in. */
final class IntakeCard extends StationCard {
    private final FileDialogs dialogs;
    private final InventoryList inventory;
    private final NamesSection names;
    private final LevelsSection levels;
    private final CombineSection combine;

    IntakeCard(Desk desk, ViewportPane viewport, FileDialogs dialogs) {
        super(desk);
        this.dialogs = dialogs;
        inventory = new InventoryList(desk, viewport);
        names = new NamesSection(desk, dialogs);
        levels = new LevelsSection(desk);
        combine = new CombineSection(desk);
    }

    @Override
    void fill() {
        Asset asset = desk.now();
        title("station.intake", Labels.of("intake.what", asset.name()));
        put(Widgets.row(
                Widgets.mainButton("open-file", "intake.open", dialogs::open),
                Widgets.button("open-newer", "intake.newer", dialogs::openNewer)));
        heading("intake.inventory");
        inventory.refresh();
        put(inventory);
        desk.joined().forEach(this::matches);
        heading("intake.names");
        names.refresh();
        put(names);
        heading("intake.levels");
        levels.refresh();
        put(levels);
        heading("intake.combine");
        put(combine);
        heading("intake.inside");
        fact("intake.vertices", number(sum(asset, Mesh::vertexCount)));
        fact("intake.triangles", number(sum(asset, Mesh::triangleCount)));
        fact("intake.materials", number(asset.materials().size()));
        fact("intake.pictures", number(asset.images().size()));
        if (!asset.notes().isEmpty()) {
            heading("intake.notes");
            asset.notes().forEach(n -> put(Widgets.sentence(n)));
        }
        desk.demo().map(d -> d.faults().get()).filter(f -> !f.isEmpty()).ifPresent(this::planted);
    }

    /** Joint by joint what a further file's became. */
    private void matches(AssetFiles.Joined joined) {
        put(Widgets.heading("intake.joined", joined.file()));
        long found = joined.table().stream()
                .filter(m -> !m.found().isEmpty() && !m.added())
                .count();
        sentence("intake.joined.what", found, joined.table().size());
        ListView<String> table = new ListView<>();
        table.setId("joined");
        table.getStyleClass().add("mono");
        table.setFixedCellSize(22);
        table.getItems().setAll(joined.table().stream().map(IntakeCard::match).toList());
        table.setPrefHeight(Math.min(7, Math.max(1, joined.table().size())) * 22 + 4);
        put(table);
    }

    private static String match(Join.Match match) {
        String found = match.added()
                ? Labels.of("intake.joined.added")
                : match.found().isEmpty() ? Labels.of("intake.joined.none") : match.found();
        return match.other() + "  →  " + found;
    }

    private void planted(List<PlantedFault> faults) {
        heading("intake.planted");
        sentence("intake.planted.why");
        for (PlantedFault fault : faults) {
            String many =
                    fault.count() > 1 ? Labels.of("intake.planted.many", fault.where(), fault.count()) : fault.where();
            put(Widgets.sentence("· " + many));
        }
    }

    private static int sum(Asset asset, ToIntFunction<Mesh> what) {
        return asset.meshes().stream().mapToInt(what).sum();
    }

    private static String number(int n) {
        return String.format(Locale.ROOT, "%,d", n);
    }
}
