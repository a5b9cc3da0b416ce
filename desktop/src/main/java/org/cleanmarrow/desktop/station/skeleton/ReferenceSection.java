package org.cleanmarrow.desktop.station.skeleton;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.reference.JointMap;
import org.cleanmarrow.reference.SkeletonComparison;
import org.cleanmarrow.reference.SkeletonOutline;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenameMany;
import org.cleanmarrow.steps.skeleton.MatchSkeleton;

/** Another skeleton to be like: what differs, which joint is which, and the steps that make this one the same. */
final class ReferenceSection extends VBox {
    private static final int MOST_SHOWN = 500;

    private final Desk desk;
    private final Label what = Widgets.sentence("");
    private final ListView<String> differences = list("reference-differences");
    private final ListView<String> pairs = list("reference-pairs");
    private final TextField millimetres = number("reference-mm", "1");
    private final TextField degrees = number("reference-degrees", "0.5");
    private final TextField other = new TextField();
    private final CheckBox parents = option("reference-parents", "reference.parents");
    private final CheckBox axes = option("reference-axes", "reference.axes");
    private final CheckBox order = option("reference-order", "reference.order");
    private final VBox work;
    private Map<String, String> map = new LinkedHashMap<>();
    /** Pairs made by hand; they outlast what is guessed anew. */
    private final Map<String, String> edits = new LinkedHashMap<>();

    private SkeletonOutline outline;
    /** Differences; -1 while they are not known. */
    private int many = -1;

    private Asset mappedOf;
    private Asset mappedTo;

    ReferenceSection(Desk desk, FileDialogs dialogs) {
        super(6);
        this.desk = desk;
        what.setId("reference-what");
        other.setId("reference-name");
        other.setPromptText(Labels.of("reference.name"));
        other.setAccessibleText(Labels.of("reference.name"));
        HBox.setHgrow(other, Priority.ALWAYS);
        HBox tolerances = new HBox(6, millimetres, new Label("mm"), degrees, new Label("°"), Widgets.spring());
        tolerances.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        HBox pair = new HBox(6, other, Widgets.button("reference-pair", "reference.pair", this::pair));
        work = new VBox(
                6,
                tolerances,
                differences,
                pairs,
                pair,
                Widgets.row(
                        Widgets.button("reference-save", "reference.save", () -> dialogs.saveNames(names())),
                        Widgets.button(
                                "reference-load",
                                "reference.load",
                                () -> dialogs.loadNames(loaded -> {
                                    map = new LinkedHashMap<>(loaded);
                                    showPairs();
                                }))),
                Widgets.row(parents, axes, order),
                new StepRow(desk, "reference-preview")
                        .also("reference-rename", "reference.rename", this::named)
                        .also("reference-match", "reference.match", this::matched));
        getChildren()
                .addAll(
                        what,
                        Widgets.row(Widgets.button("reference-open", "reference.open", dialogs::reference)),
                        work);
        millimetres.textProperty().addListener((o, a, b) -> refresh());
        degrees.textProperty().addListener((o, a, b) -> refresh());
        desk.reference().addListener((o, a, b) -> refresh());
    }

    private static ListView<String> list(String id) {
        ListView<String> list = new ListView<>();
        list.setId(id);
        list.getStyleClass().add("mono");
        list.setFixedCellSize(22);
        list.setPrefHeight(5 * 22 + 4);
        return list;
    }

    private static TextField number(String id, String value) {
        TextField field = new TextField(value);
        field.setId(id);
        field.setPrefColumnCount(4);
        field.setAccessibleText(Labels.of(id.replace('-', '.')));
        return field;
    }

    private static CheckBox option(String id, String key) {
        CheckBox box = new CheckBox(Labels.of(key));
        box.setId(id);
        box.setSelected(true);
        return box;
    }

    /** How many differences there are, in a word. */
    String fact() {
        return desk.reference().get() == null || many < 0 ? "" : Labels.of("reference.fact", many);
    }

    /** Compares anew. */
    void refresh() {
        Asset reference = desk.reference().get();
        work.setDisable(reference == null);
        if (reference == null || !desk.isOpen()) {
            what.setText(Labels.of("reference.none"));
            return;
        }
        Asset asset = desk.now();
        if (mappedOf != asset || mappedTo != reference) {
            if (mappedTo != reference) {
                outline = SkeletonOutline.of(reference);
                edits.clear();
            }
            mappedOf = asset;
            mappedTo = reference;
            many = -1;
            // Guessing roles takes time.
            desk.jobs().study(w -> JointMap.guess(asset, reference), found -> {
                if (mappedOf == asset && mappedTo == reference) {
                    map = new LinkedHashMap<>(found);
                    edits.forEach(this::change);
                    showPairs();
                }
            });
        }
        double near = Lengths.number(millimetres.getText()).orElse(1) / 1000;
        OptionalDouble angle = Lengths.number(degrees.getText());
        SkeletonOutline to = outline;
        double most = angle.orElse(0.5);
        Optional<List<SkeletonComparison.Row>> found = desk.facts()
                .of("reference", asset, List.of(to, near, most), w -> SkeletonComparison.of(asset, to, near, most));
        if (found.isEmpty()) {
            return;
        }
        List<SkeletonComparison.Row> rows = found.get();
        many = rows.size();
        what.setText(
                rows.isEmpty()
                        ? Labels.of(
                                "reference.same",
                                reference.name(),
                                outline.joints().size())
                        : Labels.of(
                                "reference.what",
                                reference.name(),
                                outline.joints().size(),
                                rows.size()));
        fill(differences, rows.stream().map(ReferenceSection::said).toList());
    }

    private void showPairs() {
        fill(
                pairs,
                map.entrySet().stream()
                        .map(e -> e.getKey() + "  →  " + e.getValue())
                        .toList());
    }

    private static void fill(ListView<String> list, List<String> rows) {
        list.getItems().setAll(rows.stream().limit(MOST_SHOWN).toList());
    }

    private static String said(SkeletonComparison.Row row) {
        String key = "reference.kind." + row.kind().name().toLowerCase(Locale.ROOT);
        double amount = row.kind() == SkeletonComparison.Kind.OFFSET ? row.amount() * 1000 : row.amount();
        return Labels.of(key, row.name(), row.expected(), String.format(Locale.ROOT, "%.1f", amount));
    }

    /** The chosen joint is the one of the reference that was typed; an empty name takes the pair away. */
    private void pair() {
        if (desk.selection().jointNode() < 0) {
            what.setText(Labels.of("skeleton.choose"));
            return;
        }
        String own = desk.selection().joint().get();
        edits.put(own, other.getText().strip());
        change(own, edits.get(own));
        showPairs();
    }

    private void change(String own, String to) {
        map.remove(own);
        map.values().removeIf(to::equals);
        if (!to.isEmpty() && !to.equals(own) && desk.now().findNode(own) >= 0) {
            map.put(own, to);
        }
    }

    private RenameMany names() {
        return new RenameMany(Rename.Kind.NODE, map);
    }

    private RenameMany named() throws StepRow.Unclear {
        if (map.isEmpty()) {
            throw new StepRow.Unclear("reference.no.names");
        }
        return names();
    }

    private MatchSkeleton matched() {
        return new MatchSkeleton(outline, parents.isSelected(), axes.isSelected(), order.isSelected());
    }
}
