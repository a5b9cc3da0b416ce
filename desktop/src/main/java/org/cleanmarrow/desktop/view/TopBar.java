package org.cleanmarrow.desktop.view;

import java.util.List;
import java.util.Locale;
import javafx.geometry.Pos;
import javafx.scene.Group;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.shape.Circle;
import javafx.util.StringConverter;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.check.Target;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.FileDialogs;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.desktop.viewport.ViewportPane;

/** Name of the work, how the view shows it, what it is for, and the way out. */
final class TopBar extends HBox {
    private static final List<String> TARGETS =
            List.of("z-up-cm-lh", "y-up-m-rh", "y-up-m-lh", "z-up-m-rh", "z-up-cm-rh", "z-up-m-lh", "y-up-cm-rh");

    private final Desk desk;
    private final Label name = new Label();

    TopBar(Desk desk, ViewportPane viewport, FileDialogs dialogs, Runnable theme) {
        this.desk = desk;
        getStyleClass().add("top-bar");
        setAlignment(Pos.CENTER_LEFT);
        Circle rim = new Circle(9);
        rim.getStyleClass().add("mark-rim");
        Circle marrow = new Circle(4);
        marrow.getStyleClass().add("mark");
        Label product = new Label(Words.of("app.title"));
        product.getStyleClass().add("product");
        product.setMinWidth(Region.USE_PREF_SIZE);
        name.setId("asset-name");
        name.setMinWidth(60);
        ToggleButton split =
                view("view-received", "view.received", desk.divider().get() > 0);
        split.setOnAction(e -> desk.divider().set(split.isSelected() ? 0.5 : 0));
        desk.divider().addListener((o, a, b) -> split.setSelected(b.doubleValue() > 0));
        ToggleButton joints = view("view-joints", "view.joints", true);
        joints.selectedProperty().bindBidirectional(viewport.joints());
        ToggleButton wire = view("view-wire", "view.wire", false);
        wire.selectedProperty().bindBidirectional(viewport.wire());
        Button whole = Parts.button("view-whole", "view.whole", viewport::frameAll);
        whole.getStyleClass().add("quiet");
        Button light = Parts.button("theme", "view.theme", theme);
        light.getStyleClass().add("quiet");
        Button open = Parts.button("open", "top.open", dialogs::open);
        Button deliver = Parts.mainButton(
                "to-delivery", "top.deliver", () -> desk.station().set(Station.DELIVERY));
        for (Region r : List.of(split, joints, wire, whole, light, open, deliver)) {
            r.setMinWidth(Region.USE_PREF_SIZE);
        }
        Label for_ = new Label(Words.of("top.for"));
        for_.getStyleClass().add("ink-2");
        for_.setMinWidth(Region.USE_PREF_SIZE);
        getChildren()
                .addAll(
                        new Group(rim, marrow),
                        product,
                        name,
                        Parts.spring(),
                        split,
                        joints,
                        wire,
                        whole,
                        light,
                        for_,
                        targets(),
                        open,
                        deliver);
        desk.revision().addListener((o, a, b) -> refresh());
        refresh();
    }

    private static ToggleButton view(String id, String key, boolean on) {
        ToggleButton button = new ToggleButton(Words.of(key));
        button.setId(id);
        button.setSelected(on);
        button.getStyleClass().add("quiet");
        return button;
    }

    private ComboBox<Target> targets() {
        ComboBox<Target> box = new ComboBox<>();
        box.setId("target");
        box.setAccessibleText(Words.of("top.target"));
        box.setMinWidth(170);
        box.setConverter(new StringConverter<>() {
            @Override
            public String toString(Target target) {
                return target == null ? "" : say(target.conventions());
            }

            @Override
            public Target fromString(String text) {
                return null;
            }
        });
        TARGETS.forEach(t -> box.getItems().add(Target.named(t).orElseThrow()));
        box.setValue(box.getItems().getFirst());
        box.valueProperty().addListener((o, a, b) -> desk.target().set(b));
        desk.target().set(box.getValue());
        return box;
    }

    private static String say(Conventions c) {
        return Words.of(
                "conventions.short",
                c.up().code().toUpperCase(Locale.ROOT),
                Units.shortName(c.metresPerUnit()).orElse("?"),
                Words.of("hand." + c.handedness().code()));
    }

    private void refresh() {
        name.setText(desk.isOpen() ? desk.received().name() : "");
    }
}
