package org.cleanmarrow.desktop.station.skin;

import java.util.List;
import java.util.Locale;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.station.TrialSlider;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tables;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.measure.WorstPlaces;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;

/** Trial poses held against the skin, how far each strains it, and where most. */
final class TrialSection extends VBox {
    private static final int MOST_SHOWN = 60;

    private final Desk desk;
    private final ComboBox<TrialPose> poses = new ComboBox<>();
    private final TableView<WorstPlaces> worst = new TableView<>();
    private final Label what = Widgets.sentence("");
    private final CheckBox strain = new CheckBox(Labels.of("trial.strain"));
    private final TextField keepAs = new TextField();
    private Asset listed;
    private boolean filling;

    TrialSection(Desk desk) {
        super(6);
        this.desk = desk;
        poses.setId("trial-pose");
        poses.setMaxWidth(Double.MAX_VALUE);
        poses.setPromptText(Labels.of("trial.choose"));
        poses.setAccessibleText(Labels.of("trial.choose"));
        poses.setConverter(Widgets.shown(TrialPose::name));
        poses.setOnAction(e -> {
            if (!filling && poses.getValue() != null) {
                desk.playback().hold(poses.getValue());
            }
        });
        strain.setId("show-strain");
        strain.setOnAction(
                e -> desk.seeing().paint().set(strain.isSelected() ? ShadingMode.STRAIN : ShadingMode.INFLUENCE));
        desk.seeing().paint().addListener((o, a, b) -> strain.setSelected(b == ShadingMode.STRAIN));
        CheckBox dual = new CheckBox(Labels.of("trial.dual"));
        dual.setId("dual-quaternions");
        dual.selectedProperty().bindBidirectional(desk.seeing().dual());
        CheckBox relaxed = new CheckBox(Labels.of("trial.relaxed"));
        relaxed.setId("relaxed");
        relaxed.selectedProperty().bindBidirectional(desk.seeing().relaxed());
        worst.setId("worst-places");
        worst.setFixedCellSize(22);
        worst.setPrefHeight(7 * 22 + 4);
        worst.setAccessibleText(Labels.of("trial.worst"));
        Tables.fill(
                worst,
                List.of(
                        Tables.number(
                                "trial.column.strain",
                                58,
                                WorstPlaces::worst,
                                w -> String.format(Locale.ROOT, "%+.0f %%", w * 100)),
                        Tables.text("trial.column.pose", 90, w -> w.pose().name()),
                        Tables.text("trial.column.part", 78, this::part),
                        Tables.number("trial.column.over", 46, WorstPlaces::turned, TrialSection::many),
                        Tables.number("trial.column.through", 62, WorstPlaces::crossing, TrialSection::many)));
        worst.getSelectionModel().selectedItemProperty().addListener((o, a, b) -> show(b));
        what.setId("trial-what");
        keepAs.setId("keep-pose-as");
        keepAs.setPrefColumnCount(9);
        keepAs.setPromptText(Labels.of("skin.keep.name"));
        keepAs.setAccessibleText(Labels.of("trial.keep"));
        getChildren()
                .addAll(
                        poses,
                        new TrialSlider(desk, "trial-at"),
                        Widgets.row(
                                Widgets.button("trial-find", "trial.find", this::find),
                                Widgets.button("trial-joint", "trial.joint", this::sweep),
                                Widgets.button(
                                        "trial-rest",
                                        "trial.rest",
                                        () -> desk.playback().hold(null))),
                        Widgets.row(keepAs, Widgets.button("keep-pose", "trial.keep", () -> {
                            desk.keepPose(keepAs.getText().strip());
                            keepAs.clear();
                        })),
                        strain,
                        dual,
                        relaxed,
                        what,
                        worst);
        showWorst(List.of());
        desk.playback().trial().addListener((o, a, b) -> follow(b));
        desk.poses().addListener((o, a, b) -> list(b));
        list(desk.poses().get());
    }

    /** The worst that was found, in a word. */
    String worst() {
        return worst.getItems().isEmpty()
                ? ""
                : Labels.of(
                        "trial.fact",
                        String.format(
                                Locale.ROOT,
                                "%+.0f",
                                worst.getItems().getFirst().worst() * 100));
    }

    private void follow(TrialPose held) {
        filling = true;
        poses.setValue(
                held == null
                        ? null
                        : poses.getItems().stream()
                                .filter(p -> p.name().equals(held.name()))
                                .findFirst()
                                .orElse(null));
        filling = false;
    }

    /** Shows strain where it is on, and finds the worst places anew where they are shown. */
    void refresh() {
        strain.setSelected(desk.seeing().paint().get() == ShadingMode.STRAIN);
        if (listed != desk.now() && !worst.getItems().isEmpty()) {
            find();
        }
        listed = desk.now();
    }

    private void list(List<TrialPose> all) {
        filling = true;
        poses.getItems().setAll(all);
        filling = false;
        poses.setDisable(all.isEmpty());
        follow(desk.playback().trial().get());
    }

    private String part(WorstPlaces place) {
        return place.mesh() < listed.meshes().size()
                ? listed.meshes().get(place.mesh()).name()
                : "";
    }

    private static String many(double number) {
        return number == 0 ? "" : String.format(Locale.ROOT, "%.0f", number);
    }

    /** Tries all poses, away from the interface thread. */
    private void find() {
        Asset asset = desk.now();
        List<TrialPose> all = List.copyOf(poses.getItems());
        what.setText(Labels.of("trial.trying", all.size()));
        desk.jobs().study(w -> WorstPlaces.of(asset, all, w), found -> {
            if (asset == desk.now()) {
                showWorst(found);
            }
        });
    }

    private void showWorst(List<WorstPlaces> found) {
        worst.getSelectionModel().clearSelection();
        worst.getItems().setAll(found.stream().limit(MOST_SHOWN).toList());
        if (!found.isEmpty()) {
            WorstPlaces first = found.getFirst();
            what.setText(Labels.of(
                    "trial.said",
                    String.format(Locale.ROOT, "%+.0f", first.worst() * 100),
                    first.pose().name(),
                    found.stream().mapToInt(WorstPlaces::turned).sum()));
        } else {
            what.setText(Labels.of("trial.why"));
        }
    }

    private void show(WorstPlaces place) {
        if (place != null && place.mesh() < desk.now().meshes().size()) {
            desk.playback().hold(place.pose());
            desk.selection()
                    .choose(place.mesh(), (java.util.BitSet) place.vertices().clone());
            desk.seeing().paint().set(ShadingMode.STRAIN);
        }
    }

    /** The chosen joint turned there and back about the axis that bends it most. */
    private void sweep() {
        int node = desk.selection().jointNode();
        if (node < 0) {
            what.setText(Labels.of("skeleton.choose"));
            return;
        }
        var swing = org.cleanmarrow.trial.Swing.of(desk.now().nodes().get(node));
        desk.playback()
                .hold(
                        swing.isPresent()
                                ? TrialPoses.sweep(
                                        desk.now(),
                                        node,
                                        swing.get().axis(),
                                        swing.get().from(),
                                        swing.get().to())
                                : TrialPoses.sweep(desk.now(), node, 0, -60, 60));
    }
}
