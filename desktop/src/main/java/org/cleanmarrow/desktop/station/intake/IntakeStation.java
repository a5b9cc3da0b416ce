package org.cleanmarrow.desktop.station.intake;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.ToIntFunction;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.TableView;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.StationDef;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.station.StepsAct;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.viewport.ViewportPane;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;

/** What came in: items, names, levels of detail, parts combined. */
public final class IntakeStation extends StationDef {
    private final InventoryList inventory;
    private final TableView<Join.Match> joined = new TableView<>();
    private final Label joinedWhat = Widgets.sentence("");
    private final VBox notes = new VBox(4);
    private final VBox planted = new VBox(4);
    private List<AssetFiles.Joined> listed = List.of();
    private Asset noted;

    public IntakeStation(Desk desk, ViewportPane viewport, FileDialogs dialogs) {
        super(Station.INTAKE, desk);
        NamesSection names = new NamesSection(desk, dialogs);
        LevelsSection levels = new LevelsSection(desk);
        CombineSection combine = new CombineSection(desk);
        MaterialSection material = new MaterialSection(desk);
        SlotSection slots = new SlotSection(desk, dialogs);
        OrderSection order = new OrderSection(desk, dialogs);
        inventory = new InventoryList(desk, viewport);
        joined.setId("joined");
        joined.setPrefHeight(8 * 24);
        Tables.fill(
                joined,
                List.of(
                        Tables.text("intake.joined.other", 140, Join.Match::other),
                        Tables.text("intake.joined.found", 140, IntakeStation::found)));
        List<Act> acts = List.of(
                new Act(
                                "intake-open",
                                Widgets.row(
                                        Widgets.mainButton("open-file", "intake.open", dialogs::open),
                                        Widgets.button("open-newer", "intake.newer", dialogs::openNewer)))
                        .says(() -> desk.received().name()),
                new Act("intake-joined", joinedWhat, joined)
                        .refreshing(this::listJoined)
                        .says(() -> desk.joined().isEmpty()
                                ? Labels.of("intake.joined.one")
                                : Labels.of("intake.joined.files", desk.joined().size() + 1)),
                new Act("intake-export", inventory.sweep()).says(inventory::fact),
                new Act("intake-names", names).refreshing(names::refresh),
                new Act("intake-levels", levels).refreshing(levels::refresh).says(levels::fact),
                new Act("intake-combine", combine)
                        .says(() -> Labels.of("count.part", desk.now().meshes().size())),
                new Act("intake-material", material)
                        .says(() -> Labels.of(
                                "count.material", desk.now().materials().size())),
                new Act("intake-slots", slots).refreshing(slots::refresh),
                new Act("intake-order", order).refreshing(order::refresh).says(order::fact),
                new Act(
                        "intake-triangulate",
                        new StepRow(desk, "triangulate-preview")
                                .also(
                                        "triangulate",
                                        "combine.triangulate",
                                        org.cleanmarrow.steps.intake.Triangulate::new)
                                .also(
                                        "share-duplicates",
                                        "combine.duplicates",
                                        org.cleanmarrow.steps.intake.ShareDuplicates::new)),
                new Act("intake-notes", notes)
                        .refreshing(this::listNotes)
                        .says(() -> desk.now().notes().isEmpty()
                                ? ""
                                : Integer.toString(desk.now().notes().size())),
                new Act("intake-planted", planted)
                        .refreshing(this::listPlanted)
                        .says(() -> desk.demo()
                                .map(d -> Integer.toString(d.faults().get().size()))
                                .orElse("")),
                StepsAct.of(desk, "intake-steps", "intake"));
        consistOf(acts, List.of(), Piece.OWN);
    }

    @Override
    public String facts() {
        Asset asset = desk.now();
        return Labels.of(
                "intake.facts",
                number(sum(asset, Mesh::vertexCount)),
                number(sum(asset, Mesh::triangleCount)),
                asset.materials().size(),
                asset.images().size());
    }

    @Override
    public Optional<Node> own() {
        return Optional.of(inventory);
    }

    @Override
    public void refresh() {
        inventory.refresh();
    }

    /** Joint by joint what a further file's became. */
    private void listJoined() {
        if (listed == desk.joined()) {
            return;
        }
        listed = desk.joined();
        List<Join.Match> all = listed.stream().flatMap(j -> j.table().stream()).toList();
        long found =
                all.stream().filter(m -> !m.found().isEmpty() && !m.added()).count();
        joinedWhat.setText(
                listed.isEmpty()
                        ? Labels.of("intake.joined.how")
                        : Labels.of(
                                "intake.joined.what",
                                found,
                                all.size(),
                                listed.getLast().file()));
        joined.getItems().setAll(all);
    }

    private static String found(Join.Match match) {
        return match.added()
                ? Labels.of("intake.joined.added")
                : match.found().isEmpty() ? Labels.of("intake.joined.none") : match.found();
    }

    private void listNotes() {
        if (noted != desk.now()) {
            noted = desk.now();
            notes.getChildren()
                    .setAll(noted.notes().stream().map(Widgets::sentence).toList());
            if (noted.notes().isEmpty()) {
                notes.getChildren().add(Widgets.sentence(Labels.of("intake.notes.none")));
            }
        }
    }

    private void listPlanted() {
        planted.getChildren().clear();
        desk.demo()
                .ifPresentOrElse(
                        demo -> {
                            planted.getChildren().add(Widgets.sentence(Labels.of("intake.planted.why")));
                            demo.faults()
                                    .get()
                                    .forEach(fault -> planted.getChildren()
                                            .add(Widgets.sentence("· "
                                                    + (fault.count() > 1
                                                            ? Labels.of(
                                                                    "intake.planted.many", fault.where(), fault.count())
                                                            : fault.where()))));
                        },
                        () -> planted.getChildren().add(Widgets.sentence(Labels.of("intake.planted.none"))));
    }

    private static int sum(Asset asset, ToIntFunction<Mesh> what) {
        return asset.meshes().stream().mapToInt(what).sum();
    }

    private static String number(int n) {
        return String.format(Locale.ROOT, "%,d", n);
    }
}
