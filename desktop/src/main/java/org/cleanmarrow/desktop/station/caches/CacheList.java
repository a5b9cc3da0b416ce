package org.cleanmarrow.desktop.station.caches;

import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.TableView;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.surface.Strands;

/** Every cache with its clip and frames, and every part with strands; choosing a cache plays its clip. */
final class CacheList extends VBox {
    private final Desk desk;
    private final TableView<Row> table = new TableView<>();
    private Asset listed;
    private Asset counted;
    private List<Strands.Count> strands = List.of();

    /**
     * A cache, or strands.
     *
     * @param clip empty where it is strands
     * @param many frames, or strands
     */
    record Row(String mesh, String clip, int many) {
        boolean strands() {
            return clip.isEmpty();
        }
    }

    CacheList(Desk desk) {
        super(6);
        this.desk = desk;
        table.setId("caches");
        table.setAccessibleText(Labels.of("caches.list"));
        table.setFixedCellSize(22);
        table.setPlaceholder(Widgets.sentence(Labels.of("caches.none")));
        Tables.fill(
                table,
                List.of(
                        Tables.text("caches.column.mesh", 76, Row::mesh),
                        Tables.text(
                                "caches.column.clip", 66, r -> r.strands() ? Labels.of("caches.strands") : r.clip()),
                        Tables.text("caches.column.many", 52, r -> Integer.toString(r.many()))));
        table.getSelectionModel().selectedItemProperty().addListener((o, a, row) -> {
            if (row != null && !row.strands() && listed == desk.now()) {
                desk.playback().clip().set(row.clip());
                int number = listed.findClip(row.clip());
                desk.playback()
                        .seconds()
                        .set(number < 0 ? 0 : listed.clips().get(number).start());
            }
        });
        VBox.setVgrow(table, Priority.ALWAYS);
        getChildren().addAll(Widgets.heading("caches.list"), table);
    }

    /** What strands the asset on the desk has; counted once for each state of it. */
    List<Strands.Count> strands() {
        if (counted != desk.now()) {
            counted = desk.now();
            strands = Strands.counts(counted);
        }
        return strands;
    }

    private List<Row> rows(Asset asset) {
        List<Row> out = new ArrayList<>();
        for (CacheUse use : CacheUse.all(asset)) {
            out.add(new Row(
                    asset.meshRef(use.mesh()),
                    Inventory.clipRef(asset, use.clip()),
                    use.track().times().length));
        }
        for (Strands.Count count : strands()) {
            int mesh = asset.nodes().get(count.node()).mesh();
            out.add(new Row(asset.meshRef(mesh), "", count.curves()));
        }
        return out;
    }

    void refresh() {
        if (desk.isOpen() && listed != desk.now()) {
            listed = desk.now();
            table.getItems().setAll(rows(listed));
        }
    }
}
