package org.cleanmarrow.desktop.window;

import java.util.List;
import java.util.Locale;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Group;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.StackPane;
import javafx.scene.shape.Circle;
import javafx.util.StringConverter;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;

/** Name of the work, how the view shows it, what it is for, and the way out. */
final class TopBar extends HBox {
    private final Desk desk;
    private final Label name = new Label();

    TopBar(Desk desk, Finder finder, Commands acts, Layer layer) {
        this.desk = desk;
        getStyleClass().add("top-bar");
        setAlignment(Pos.CENTER_LEFT);
        Circle rim = new Circle(9);
        rim.getStyleClass().add("mark-rim");
        Circle marrow = new Circle(4);
        marrow.getStyleClass().add("mark");
        Label product = new Label(Labels.of("app.title"));
        product.getStyleClass().add("product");
        product.setMinWidth(Region.USE_PREF_SIZE);
        name.setId("asset-name");
        name.setMinWidth(0);
        Button newer = Widgets.button("source-newer", "top.newer", () -> NewerSheet.open(desk, layer));
        newer.getStyleClass().add("newer");
        newer.setMinWidth(Region.USE_PREF_SIZE);
        Tips.say(newer, Labels.of("tip.newer"));
        newer.visibleProperty().bind(desk.sourceWatch().newer());
        newer.managedProperty().bind(newer.visibleProperty());
        Label keys = new Label(acts.said(acts.get("find")));
        keys.getStyleClass().add("keys");
        keys.setMouseTransparent(true);
        keys.visibleProperty().bind(finder.textProperty().isEmpty());
        StackPane find = new StackPane(finder, keys);
        StackPane.setAlignment(keys, Pos.CENTER_RIGHT);
        StackPane.setMargin(keys, new Insets(0, 6, 0, 0));
        Button open = Widgets.button("open", "top.open", () -> acts.run("open"));
        Button settings = Widgets.button("settings-open", "top.settings", () -> acts.run("settings"));
        settings.getStyleClass().add("quiet");
        Button deliver = Widgets.mainButton(
                "to-delivery", "top.deliver", () -> desk.station().set(Station.DELIVERY));
        deliver.disableProperty().bind(desk.asset().isNull());
        Label for_ = new Label(Labels.of("top.for"));
        for_.getStyleClass().add("ink-2");
        find.setMinWidth(110);
        Button edit = Widgets.button("target-edit", "top.targets", () -> acts.run("target"));
        edit.getStyleClass().add("quiet");
        for (Region r : List.of(settings, edit, open, deliver, for_)) {
            r.setMinWidth(Region.USE_PREF_SIZE);
        }
        getChildren()
                .addAll(
                        new Group(rim, marrow),
                        product,
                        name,
                        newer,
                        Widgets.spring(),
                        find,
                        settings,
                        for_,
                        targets(),
                        edit,
                        open,
                        deliver);
        desk.piece().addListener((o, a, b) -> refresh());
        refresh();
    }

    private ComboBox<Target> targets() {
        ComboBox<Target> box = new ComboBox<>();
        box.setId("target");
        box.setAccessibleText(Labels.of("top.target"));
        box.setMinWidth(110);
        box.setPrefWidth(178);
        box.setConverter(new StringConverter<>() {
            @Override
            public String toString(Target target) {
                return target == null ? "" : say(target);
            }

            @Override
            public Target fromString(String text) {
                return null;
            }
        });
        box.setItems(desk.targets().all());
        box.setValue(box.getItems().getFirst());
        box.valueProperty().addListener((o, a, b) -> {
            if (b != null) {
                desk.target().set(b);
            }
        });
        desk.target().set(box.getValue());
        desk.target().addListener((o, a, b) -> box.setValue(b));
        return box;
    }

    /** A target of one's own by its name, a usual one by what it means. */
    private static String say(Target target) {
        Conventions c = target.conventions();
        if (!target.name().equals(c.code())) {
            return target.name();
        }
        return Labels.of(
                "conventions.short",
                c.up().code().toUpperCase(Locale.ROOT),
                Units.shortName(c.metresPerUnit()).orElse("?"),
                Labels.of("hand." + c.handedness().code()));
    }

    private void refresh() {
        name.setText(desk.isOpen() ? desk.received().name() : "");
        Tips.say(name, name.getText());
    }
}
