package org.cleanmarrow.desktop.station.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.ShapeNumbers;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.desktop.station.Fields;
import org.cleanmarrow.desktop.station.StepRow;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.collision.MirrorShapes;
import org.cleanmarrow.steps.collision.PlaceShape;
import org.cleanmarrow.steps.collision.RemoveCollision;
import org.cleanmarrow.steps.collision.SetShapes;
import org.joml.Vector3d;

/** The shape in hand as numbers, and what is done with it; also for one that is to be made. */
final class ShapeByHand {
    private static final List<String> AXES = List.of("x", "y", "z");

    private final Desk desk;
    private final Fields fields;
    private final TextField node;
    private final TextField name;
    private final ComboBox<PlaceShape.Kind> kind;
    private final ComboBox<SetShapes.Use> role;
    private final List<TextField> middle = new ArrayList<>();
    private final List<TextField> turn = new ArrayList<>();
    private final List<TextField> size = new ArrayList<>();
    private Asset filledOf;
    private Selection.ShapeName filledFor;

    ShapeByHand(Desk desk, Fields fields, Supplier<List<String>> nodes) {
        this.desk = desk;
        this.fields = fields;
        node = fields.names("shape-node", nodes, "");
        name = fields.number("shape-name", "");
        name.setPrefColumnCount(12);
        kind = fields.choice("shape-kind", PlaceShape.Kind.values());
        role = fields.choice("shape-role", SetShapes.Use.values());
        for (String axis : AXES) {
            middle.add(fields.number("shape-middle-" + axis, "0"));
            turn.add(fields.number("shape-turn-" + axis, "0"));
            size.add(fields.number("shape-size-" + axis, "0.1"));
        }
    }

    Act act() {
        return new Act(
                "collision-shape",
                Widgets.labelled("collision.shape.node", node),
                Widgets.labelled("collision.shape.name", name),
                Widgets.labelled("collision.kind", kind),
                row("collision.middle", middle),
                row("collision.turn", turn),
                row("collision.size", size),
                Widgets.labelled("collision.role", role),
                new StepRow(desk, "shape-preview")
                        .also("remove-shape", "collision.remove", this::removing)
                        .also("mirror-shape", "collision.mirror", this::mirroring)
                        .also("set-shapes", "collision.role.set", this::setting)
                        .also("place-shape", "collision.place", this::placing));
    }

    /** Three numbers side by side. */
    static Node row(String key, List<TextField> three) {
        HBox box = new HBox(4);
        three.forEach(field -> {
            field.setPrefColumnCount(4);
            HBox.setHgrow(field, Priority.ALWAYS);
        });
        box.getChildren().addAll(three);
        return Widgets.labelled(key, box);
    }

    private PlaceShape placing() throws StepRow.Unclear {
        return new PlaceShape(
                fields.said(node),
                name.getText().strip(),
                kind.getValue(),
                new ShapeNumbers(three(middle), three(turn), three(size)));
    }

    private Vector3d three(List<TextField> from) throws StepRow.Unclear {
        return new Vector3d(fields.value(from.get(0)), fields.value(from.get(1)), fields.value(from.get(2)));
    }

    /** What names the shape: itself, or its node where it has no name. */
    private String named() throws StepRow.Unclear {
        String own = name.getText().strip();
        return NamePattern.exactly(own.isEmpty() ? fields.said(node) : own);
    }

    private RemoveCollision removing() throws StepRow.Unclear {
        return new RemoveCollision(named(), RemoveCollision.What.SHAPES);
    }

    private MirrorShapes mirroring() throws StepRow.Unclear {
        return new MirrorShapes(named());
    }

    private SetShapes setting() throws StepRow.Unclear {
        return new SetShapes(named(), role.getValue());
    }

    /** Shows the numbers of the shape in hand, once for each that comes to hand or changes. */
    void refresh() {
        Selection.ShapeName chosen = desk.selection().shape().get();
        Optional<Collider> collider = desk.isOpen() ? desk.selection().collider() : Optional.empty();
        if (collider.isEmpty() || desk.now() == filledOf && chosen.equals(filledFor)) {
            return;
        }
        filledOf = desk.now();
        filledFor = chosen;
        Collider c = collider.get();
        node.setText(chosen.node());
        name.setText(chosen.name());
        kind.setValue(PlaceShape.Kind.AS_IS);
        role.setValue(SetShapes.Use.valueOf(c.role().name()));
        ShapeNumbers numbers = ShapeNumbers.of(c.moved(Bodies.toMetres(filledOf, c.node())));
        fill(middle, numbers.middle());
        fill(turn, numbers.degrees());
        fill(size, numbers.size());
    }

    private static void fill(List<TextField> three, Vector3d numbers) {
        for (int i = 0; i < 3; i++) {
            String text = String.format(Locale.ROOT, "%.4f", numbers.get(i)).replaceAll("\\.?0+$", "");
            three.get(i).setText(text.equals("-0") ? "0" : text);
        }
    }
}
