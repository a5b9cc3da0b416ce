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
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Recipes;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.delivery.Recipe;

/** What a delivery has besides its first format, and recipes of that which were kept. */
final class RecipeSection extends VBox {
    private final ComboBox<String> format;
    private final CheckBox apart;
    private final TextField name = new TextField();
    private final MenuButton also = new MenuButton();
    private final Map<String, CheckMenuItem> formats = new LinkedHashMap<>();
    private final CheckBox still = check("still");
    private final CheckBox roles = check("roles");
    private final CheckBox report = check("page");
    private final CheckBox zip = check("zip");
    private final ComboBox<String> kept = new ComboBox<>();
    private final Runnable changed;
    /** While a kept recipe is put into the controls, they do not speak up one by one. */
    private boolean loading;

    /**
     * @param format  the first format
     * @param apart   whether clips lie apart
     * @param changed told when something else is asked for
     */
    RecipeSection(Desk desk, ComboBox<String> format, CheckBox apart, Runnable changed) {
        super(6);
        this.format = format;
        this.apart = apart;
        this.changed = changed;
        name.setId("recipe-name");
        name.setPromptText(Recipe.ASSET);
        name.setAccessibleText(Labels.of("recipe.name"));
        also.setId("recipe-also");
        for (String ending : AssetFiles.written()) {
            CheckMenuItem item = new CheckMenuItem(Labels.of("format." + ending));
            item.selectedProperty().addListener((o, a, b) -> say());
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
                        .ifPresent(k -> load(k.recipe())));
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
        name.textProperty().addListener((o, a, b) -> say());
        List.of(still, roles, report, zip).forEach(c -> c.selectedProperty().addListener((o, a, b) -> say()));
        format.valueProperty().addListener((o, a, b) -> say());
        getChildren()
                .addAll(
                        Widgets.labelled("recipe.called", name),
                        Widgets.labelled("recipe.also", also),
                        still,
                        roles,
                        report,
                        zip,
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
                zip.isSelected());
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
        loading = false;
        say();
    }

    /** The one fact: how much there is besides the first format. */
    String fact() {
        Recipe r = recipe();
        int more = r.formats().size() - 1;
        for (boolean on : new boolean[] {r.still(), r.roles(), r.report(), r.zip()}) {
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
