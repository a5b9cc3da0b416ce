package org.cleanmarrow.desktop.window;

import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.util.StringConverter;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Preferences;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;

/** Look, size, unit, and every key on one page, each to be changed by pressing another. */
final class Settings extends VBox {
    private final Desk desk;
    private final Commands acts;
    private final Layer layer;
    private final VBox rows = new VBox(2);
    private Command asking;

    Settings(Desk desk, Commands acts, Layer layer) {
        super(10);
        this.desk = desk;
        this.acts = acts;
        this.layer = layer;
        setId("settings");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(560, 600);
        Label title = new Label(Labels.of("settings.title"));
        title.getStyleClass().add("title");
        Button close = Widgets.button("settings-close", "sheet.close", layer::hide);
        HBox head = new HBox(title, Widgets.spring(), close);
        head.setAlignment(Pos.CENTER_LEFT);
        ScrollPane scroll = new ScrollPane(rows);
        scroll.setFitToWidth(true);
        scroll.setPrefHeight(350);
        getChildren()
                .addAll(
                        head,
                        looks(),
                        Widgets.heading("settings.keys"),
                        Widgets.sentence(Labels.of("settings.keys.how")),
                        scroll,
                        Widgets.row(Widgets.button("keys-reset", "settings.keys.reset", () -> {
                            acts.resetKeys();
                            refresh();
                        })));
        addEventFilter(KeyEvent.KEY_PRESSED, this::key);
    }

    void open() {
        asking = null;
        refresh();
        layer.show(this, Pos.CENTER, new Insets(20));
        requestFocus();
    }

    private VBox looks() {
        Preferences preferences = desk.preferences();
        CheckBox dark = new CheckBox(Labels.of("settings.dark"));
        dark.setId("dark");
        dark.selectedProperty().bindBidirectional(preferences.dark());
        CheckBox smooth = new CheckBox(Labels.of("settings.smooth"));
        smooth.setId("smooth");
        smooth.selectedProperty().bindBidirectional(preferences.smooth());
        ComboBox<Double> scale = new ComboBox<>();
        scale.setId("scale");
        scale.setAccessibleText(Labels.of("settings.scale"));
        scale.getItems().addAll(1.0, 1.125, 1.25, 1.375, 1.5, 1.625, 1.75, 1.875, 2.0);
        scale.setConverter(converter(s -> Math.round(s * 100) + " %"));
        scale.setValue(preferences.scale().get());
        preferences.scale().addListener((o, a, b) -> scale.setValue(b.doubleValue()));
        scale.valueProperty().addListener((o, a, b) -> preferences.scale().set(b));
        ComboBox<String> unit = new ComboBox<>();
        unit.setId("unit");
        unit.setAccessibleText(Labels.of("settings.unit"));
        unit.getItems().addAll("", "m", "cm", "mm", "in", "ft");
        unit.setConverter(converter(u -> u.isEmpty() ? Labels.of("settings.unit.any") : u));
        unit.setValue(preferences.unit().get());
        unit.valueProperty().addListener((o, a, b) -> preferences.unit().set(b));
        HBox looks = new HBox(20, dark, smooth);
        HBox sizes = new HBox(
                10, new Label(Labels.of("settings.scale")), scale, new Label(Labels.of("settings.unit")), unit);
        looks.setAlignment(Pos.CENTER_LEFT);
        sizes.setAlignment(Pos.CENTER_LEFT);
        return new VBox(8, looks, sizes);
    }

    private static <T> StringConverter<T> converter(java.util.function.Function<T, String> say) {
        return new StringConverter<>() {
            @Override
            public String toString(T value) {
                return value == null ? "" : say.apply(value);
            }

            @Override
            public T fromString(String text) {
                return null;
            }
        };
    }

    private void refresh() {
        rows.getChildren().clear();
        for (Command act : acts.all()) {
            String said = acts.said(act);
            Button change = new Button(
                    act == asking ? Labels.of("settings.press") : said.isEmpty() ? Labels.of("settings.none") : said);
            change.setId("key-" + act.id());
            change.getStyleClass().add("keys");
            change.setAccessibleText(Labels.of("settings.key.accessible", act.name(), said));
            change.setOnAction(e -> {
                asking = act;
                refresh();
                requestFocus();
            });
            HBox row = new HBox(8, new Label(act.name()), Widgets.spring(), change);
            row.setAlignment(Pos.CENTER_LEFT);
            row.setPadding(new Insets(0, 8, 0, 0));
            rows.getChildren().add(row);
        }
    }

    private void key(KeyEvent e) {
        if (asking == null) {
            if (e.getCode() == KeyCode.ESCAPE) {
                layer.hide();
                e.consume();
            }
            return;
        }
        e.consume();
        if (e.getCode().isModifierKey()) {
            return;
        }
        boolean none = e.getCode() == KeyCode.BACK_SPACE || e.getCode() == KeyCode.DELETE;
        acts.setKeys(asking, none ? "" : said(e));
        asking = null;
        refresh();
    }

    private static String said(KeyEvent e) {
        return (e.isShortcutDown() ? "Shortcut+" : "")
                + (e.isAltDown() ? "Alt+" : "")
                + (e.isShiftDown() ? "Shift+" : "")
                + e.getCode().getName();
    }
}
