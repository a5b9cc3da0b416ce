package org.cleanmarrow.desktop.station.delivery;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javafx.collections.ListChangeListener;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.ComboBox;
import javafx.scene.control.MenuButton;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.TextInputControl;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Recipes;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Recipe;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.model.Asset;

/** What a delivery has besides its first format, and recipes of that which were kept. */
final class RecipeSection extends VBox {
    private final Desk desk;
    private final ComboBox<String> format;
    private final CheckBox apart;
    private final TextField name = new TextField();
    private final MenuButton also = new MenuButton();
    private final Map<String, CheckMenuItem> formats = new LinkedHashMap<>();
    private final CheckBox still = check("still");
    private final CheckBox roles = check("roles");
    private final CheckBox report = check("page");
    private final CheckBox zip = check("zip");
    private final ComboBox<Pictures.Place> pictures = new ComboBox<>();
    private final TextArea notes = new TextArea();
    private final ComboBox<String> kept = new ComboBox<>();
    private final Runnable changed;
    /** While a kept recipe is put into the controls, they do not speak up one by one. */
    private boolean loading;

    private Asset source;
    /** As the work keeps it. */
    private String withWork = "";

    private Recipe settled;

    /**
     * @param format  the first format
     * @param apart   whether clips lie apart
     * @param changed told when something else is asked for
     */
    RecipeSection(Desk desk, ComboBox<String> format, CheckBox apart, Runnable changed) {
        super(6);
        this.desk = desk;
        this.format = format;
        this.apart = apart;
        this.changed = changed;
        name.setId("recipe-name");
        name.setPromptText(Recipe.ASSET);
        name.setAccessibleText(Labels.of("recipe.name"));
        also.setId("recipe-also");
        for (String ending : AssetFiles.written()) {
            CheckMenuItem item = new CheckMenuItem(Labels.of("format." + ending));
            item.selectedProperty().addListener((o, a, b) -> {
                say();
                settle();
            });
            formats.put(ending, item);
            also.getItems().add(item);
        }
        kept.setId("recipe-kept");
        kept.setEditable(true);
        kept.setPromptText(Labels.of("recipe.kept.prompt"));
        kept.setAccessibleText(Labels.of("recipe.kept"));
        kept.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(kept, Priority.ALWAYS);
        desk.recipes().all().addListener((ListChangeListener<Recipes.Kept>) c -> list(desk));
        list(desk);
        kept.valueProperty()
                .addListener((o, a, b) -> desk.recipes().all().stream()
                        .filter(k -> k.name().equals(b))
                        .findFirst()
                        .ifPresent(k -> {
                            load(k.recipe());
                            settle();
                        }));
        Button keep = Widgets.button(
                "recipe-keep", "recipe.keep", () -> desk.recipes().keep(typed(), recipe()));
        Button forget = Widgets.button(
                "recipe-forget", "recipe.forget", () -> desk.recipes().forget(typed()));
        keep.setMinWidth(USE_PREF_SIZE);
        forget.setMinWidth(USE_PREF_SIZE);
        kept.setMinWidth(0);
        kept.setPrefWidth(120);
        keep.disableProperty().bind(kept.getEditor().textProperty().map(String::isBlank));
        forget.disableProperty()
                .bind(kept.getEditor()
                        .textProperty()
                        .map(t -> desk.recipes().all().stream()
                                .noneMatch(k -> k.name().equals(t.strip()))));
        pictures.setId("recipe-pictures");
        pictures.getItems().setAll(Pictures.Place.values());
        pictures.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(pictures, Priority.ALWAYS);
        pictures.setConverter(Widgets.shown(p -> Labels.of("recipe.pictures." + p.key())));
        pictures.setValue(Pictures.Place.EMBEDDED);
        pictures.valueProperty().addListener((o, a, b) -> {
            say();
            settle();
        });
        notes.setId("recipe-notes");
        notes.setAccessibleText(Labels.of("recipe.notes"));
        notes.setPromptText(Labels.of("recipe.notes.prompt"));
        notes.setPrefRowCount(3);
        notes.setWrapText(true);
        for (TextInputControl text : List.of(name, notes)) {
            text.textProperty().addListener((o, a, b) -> say());
            text.focusedProperty().addListener((o, a, b) -> settle());
        }
        for (CheckBox box : List.of(still, roles, report, zip, apart)) {
            box.selectedProperty().addListener((o, a, b) -> {
                say();
                settle();
            });
        }
        format.valueProperty().addListener((o, a, b) -> {
            say();
            settle();
        });
        getChildren()
                .addAll(
                        Widgets.labelled("recipe.called", name),
                        Widgets.labelled("recipe.also", also),
                        Widgets.labelled("recipe.pictures", pictures),
                        still,
                        roles,
                        report,
                        zip,
                        Widgets.sentence(Labels.of("recipe.notes")),
                        notes,
                        Widgets.sentence(Labels.of("recipe.kept")),
                        new HBox(6, kept, keep, forget));
        say();
    }

    private static CheckBox check(String what) {
        CheckBox box = new CheckBox(Labels.of("recipe." + what));
        box.setId("recipe-" + what);
        return box;
    }

    private String typed() {
        return kept.getEditor().getText().strip();
    }

    private void list(Desk desk) {
        String now = typed();
        kept.getItems()
                .setAll(desk.recipes().all().stream().map(Recipes.Kept::name).toList());
        kept.getEditor().setText(now);
    }

    /** What is asked for now. */
    Recipe recipe() {
        List<String> all = new ArrayList<>();
        all.add(format.getValue());
        formats.forEach((ending, item) -> {
            if (item.isSelected() && !ending.equals(format.getValue())) {
                all.add(ending);
            }
        });
        return new Recipe(
                name.getText().strip(),
                all,
                apart.isSelected() && !apart.isDisabled(),
                still.isSelected(),
                roles.isSelected(),
                report.isSelected(),
                zip.isSelected(),
                pictures.getValue(),
                notes.getText().strip());
    }

    /** Keeps what is asked for with the work, once it is more than words half typed. */
    private void settle() {
        if (loading || !desk.isOpen()) {
            return;
        }
        Recipe now = recipe();
        if (!now.equals(settled)) {
            settled = now;
            desk.keepRecipe(now);
            withWork = desk.history().ledger().delivery();
        }
    }

    /** Takes what is kept with the work on the desk; where nothing is, all stays but the notes, which are another's. */
    void refresh() {
        if (!desk.isOpen()) {
            return;
        }
        String kept = desk.history().ledger().delivery();
        boolean other = source != desk.history().source();
        if (!other && kept.equals(withWork)) {
            return;
        }
        source = desk.history().source();
        withWork = kept;
        if (other) {
            loading = true;
            notes.clear();
            loading = false;
        }
        desk.keptRecipe().ifPresentOrElse(this::load, this::say);
        settled = recipe();
    }

    private void load(Recipe recipe) {
        loading = true;
        format.setValue(recipe.formats().getFirst());
        formats.forEach((ending, item) -> item.setSelected(recipe.formats().indexOf(ending) > 0));
        name.setText(recipe.name());
        apart.setSelected(recipe.apart());
        still.setSelected(recipe.still());
        roles.setSelected(recipe.roles());
        report.setSelected(recipe.report());
        zip.setSelected(recipe.zip());
        pictures.setValue(recipe.pictures());
        if (!recipe.notes().isBlank()) {
            notes.setText(recipe.notes());
        }
        loading = false;
        say();
    }

    /** The one fact: how much there is besides the first format. */
    String fact() {
        Recipe r = recipe();
        int more = r.formats().size() - 1;
        for (boolean on : new boolean[] {
            r.still(),
            r.roles(),
            r.report(),
            r.zip(),
            r.pictures() != Pictures.Place.EMBEDDED,
            !r.notes().isBlank()
        }) {
            more += on ? 1 : 0;
        }
        return more == 0 ? "" : Labels.of("recipe.fact", more);
    }

    private void say() {
        if (loading) {
            return;
        }
        formats.forEach((ending, item) -> item.setDisable(ending.equals(format.getValue())));
        List<String> more = recipe().formats().stream().skip(1).toList();
        also.setText(more.isEmpty() ? Labels.of("recipe.also.none") : String.join(", ", more));
        changed.run();
    }
}
