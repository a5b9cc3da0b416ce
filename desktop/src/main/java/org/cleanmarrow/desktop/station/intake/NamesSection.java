package org.cleanmarrow.desktop.station.intake;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.intake.AllNames;
import org.cleanmarrow.steps.intake.LegalNames;
import org.cleanmarrow.steps.intake.MatchNames;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.intake.RenamePattern;
import org.cleanmarrow.steps.intake.ReplacePrefix;

/** Names: by pattern with a table of what would change, prefixes, equal, legal, and those of a reference. */
final class NamesSection extends VBox {
    private static final int MOST_SHOWN = 500;

    private final Desk desk;
    private final ComboBox<Rename.Kind> kind = new ComboBox<>();
    private final TextField find = field("rename-find", "names.find", "");
    private final TextField replace = field("rename-replace", "names.replace", "");
    private final TextField prefix = field("prefix-from", "names.prefix", "*:");
    private final TextField instead = field("prefix-to", "names.prefix.to", "");
    private final ListView<String> changes = new ListView<>();

    NamesSection(Desk desk, FileDialogs dialogs) {
        super(6);
        this.desk = desk;
        kind.getItems().setAll(Rename.Kind.values());
        kind.setValue(Rename.Kind.NODE);
        kind.setId("rename-kind");
        kind.setAccessibleText(Labels.of("names.kind"));
        kind.setConverter(Widgets.shown(k -> Labels.of("names.kind." + k.name().toLowerCase(Locale.ROOT))));
        changes.setId("rename-changes");
        changes.setFixedCellSize(22);
        changes.getStyleClass().add("mono");
        kind.valueProperty().addListener((o, a, b) -> refresh());
        find.textProperty().addListener((o, a, b) -> refresh());
        replace.textProperty().addListener((o, a, b) -> refresh());
        HBox pattern = changing(find, replace);
        StepRow rename = new StepRow(desk, "rename-preview").also("rename-pattern", "names.rename", this::pattern);
        HBox prefixes = changing(prefix, instead);
        StepRow more = new StepRow(desk, "names-preview")
                .also(
                        "replace-prefix",
                        "names.prefix.act",
                        () -> new ReplacePrefix(prefix.getText(), instead.getText()))
                .also("match-names", "names.match", () -> new MatchNames(MatchNames.Keep.NODE))
                .also("legal-names", "names.legal", () -> new LegalNames(63));
        getChildren()
                .addAll(
                        kind,
                        pattern,
                        changes,
                        rename,
                        prefixes,
                        more,
                        Widgets.row(Widgets.button(
                                "names-from",
                                "names.from",
                                () -> dialogs.like("dialog.names", desk.files()::namesFrom))));
        refresh();
    }

    private static HBox changing(TextField from, TextField to) {
        Label arrow = new Label("→");
        arrow.setMinWidth(USE_PREF_SIZE);
        HBox row = new HBox(6, from, arrow, to);
        row.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        HBox.setHgrow(from, Priority.ALWAYS);
        HBox.setHgrow(to, Priority.ALWAYS);
        return row;
    }

    private static TextField field(String id, String key, String text) {
        TextField field = new TextField(text);
        field.setId(id);
        field.setPrefColumnCount(7);
        field.setPromptText(Labels.of(key));
        field.setAccessibleText(Labels.of(key));
        return field;
    }

    /** Shows what the pattern would rename. */
    void refresh() {
        List<String> rows = new ArrayList<>();
        if (desk.isOpen() && !find.getText().isBlank()) {
            NamePattern pattern = new NamePattern(find.getText());
            Set<String> seen = new HashSet<>();
            for (String name : AllNames.of(desk.now(), kind.getValue())) {
                String now = pattern.replaced(name, replace.getText()).orElse(name);
                String mark = seen.add(now) && !now.isBlank() ? "" : "  " + Labels.of("names.clash");
                if (!now.equals(name) && rows.size() < MOST_SHOWN) {
                    rows.add(name + "  →  " + now + mark);
                }
            }
        }
        changes.getItems().setAll(rows);
        changes.setPrefHeight(Math.min(5, Math.max(1, rows.size())) * 22 + 4);
        changes.setManaged(!rows.isEmpty());
        changes.setVisible(!rows.isEmpty());
    }

    private RenamePattern pattern() throws StepRow.Unclear {
        if (find.getText().isBlank() || replace.getText().isBlank()) {
            throw new StepRow.Unclear("names.empty");
        }
        return new RenamePattern(kind.getValue(), find.getText(), replace.getText());
    }
}
