package org.cleanmarrow.desktop.window;

import java.util.Locale;
import javafx.beans.property.BooleanProperty;
import javafx.geometry.Pos;
import javafx.scene.control.CheckMenuItem;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.RadioMenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;

/** How the view shows the asset: paint, joints, edges, measures, from where, and against what was received. */
final class ViewBar extends HBox {
    private final Commands acts;

    ViewBar(Desk desk, Commands acts) {
        super(4);
        this.acts = acts;
        getStyleClass().add("view-bar");
        setAlignment(Pos.CENTER_LEFT);
        ViewOptions seeing = desk.seeing();
        ToggleButton divider = new ToggleButton(Labels.of("view.received"));
        divider.setId("view-received");
        divider.getStyleClass().add("quiet");
        divider.setSelected(seeing.divider().get() > 0);
        divider.setOnAction(e -> seeing.divider().set(divider.isSelected() ? 0.5 : 0));
        seeing.divider().addListener((o, a, b) -> divider.setSelected(b.doubleValue() > 0));
        explain(divider, "divider");
        getChildren()
                .addAll(
                        paints(seeing),
                        toggle("joints", seeing.joints()),
                        toggle("wire", seeing.wire()),
                        toggle("points", seeing.points()),
                        measures(seeing),
                        from(seeing),
                        Widgets.spring(),
                        toggle("uvs", seeing.uvs()),
                        toggle("ghost", seeing.ghost()),
                        divider);
        getChildren()
                .forEach(c -> ((Region) c)
                        .setMinWidth(c instanceof ToggleButton || c instanceof MenuButton ? Region.USE_PREF_SIZE : 0));
        disableProperty().set(!desk.isOpen());
        desk.asset().addListener((o, a, b) -> setDisable(!desk.isOpen()));
    }

    private void explain(javafx.scene.control.Control control, String act) {
        Tips.say(control, () -> {
            String keys = acts.said(acts.get(act));
            return Labels.of("tip." + act) + (keys.isEmpty() ? "" : "  " + keys);
        });
    }

    private ToggleButton toggle(String act, BooleanProperty on) {
        ToggleButton button = new ToggleButton(Labels.of("view." + act));
        button.setId("view-" + act);
        button.getStyleClass().add("quiet");
        button.selectedProperty().bindBidirectional(on);
        explain(button, act);
        return button;
    }

    private MenuButton menu(String id) {
        MenuButton menu = new MenuButton(Labels.of("view." + id));
        menu.setId("view-" + id);
        menu.getStyleClass().add("quiet");
        return menu;
    }

    private MenuButton paints(ViewOptions seeing) {
        MenuButton menu = menu("paint");
        ToggleGroup group = new ToggleGroup();
        for (ShadingMode paint : ShadingMode.values()) {
            RadioMenuItem item = new RadioMenuItem(name(paint));
            item.setToggleGroup(group);
            item.setSelected(seeing.paint().get() == paint);
            item.setOnAction(e -> seeing.paint().set(paint));
            menu.getItems().add(item);
        }
        menu.setText(name(seeing.paint().get()));
        seeing.paint().addListener((o, a, b) -> {
            ((RadioMenuItem) menu.getItems().get(b.ordinal())).setSelected(true);
            menu.setText(name(b));
        });
        return menu;
    }

    private static String name(ShadingMode paint) {
        return Labels.of("skin.paint." + paint.name().toLowerCase(Locale.ROOT));
    }

    private CheckMenuItem check(String act, BooleanProperty on) {
        CheckMenuItem item = new CheckMenuItem(acts.get(act).name());
        item.selectedProperty().bindBidirectional(on);
        return item;
    }

    private MenuButton measures(ViewOptions seeing) {
        MenuButton menu = menu("measure");
        MenuItem forget = new MenuItem(Labels.of("view.tape.off"));
        forget.setOnAction(e -> {
            seeing.tape().set(ViewOptions.Tape.NONE);
            seeing.taping().set(false);
        });
        menu.getItems()
                .addAll(
                        check("box", seeing.box()),
                        check("tape", seeing.taping()),
                        forget,
                        new SeparatorMenuItem(),
                        check("figure", seeing.figure()),
                        check("cube", seeing.cube()),
                        new SeparatorMenuItem(),
                        check("names", seeing.names()));
        return menu;
    }

    private MenuButton from(ViewOptions seeing) {
        MenuButton menu = menu("from");
        for (String act : new String[] {
            "look-quarter", "look-front", "look-side", "look-top", "look-choice", "look-all", "parallel"
        }) {
            MenuItem item = new MenuItem(acts.get(act).name());
            item.setOnAction(e -> acts.run(act));
            menu.getItems().add(item);
        }
        menu.getItems().add(check("turntable", seeing.turning()));
        return menu;
    }
}
