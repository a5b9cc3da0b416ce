package org.cleanmarrow.desktop.window;

import java.util.Optional;
import java.util.OptionalDouble;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Target;

/** The target worked for: its conventions and budgets, changed, kept under a name, or taken from a file. */
final class TargetSheet extends VBox {
    private final Desk desk;
    private final Layer layer;
    private final TextField name = field("target-name", 20);
    private final ComboBox<String> conventions = new ComboBox<>();
    private final TextField influences = field("target-influences", 6);
    private final TextField joints = field("target-joints", 8);
    private final TextField triangles = field("target-triangles", 10);
    private final Label trouble = Widgets.twoLines("target-trouble");

    TargetSheet(Desk desk, FileDialogs dialogs, Layer layer) {
        super(8);
        this.desk = desk;
        this.layer = layer;
        setId("target-sheet");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(460, VBox.USE_PREF_SIZE);
        Label title = new Label(Labels.of("target.title"));
        title.getStyleClass().add("title");
        conventions.setId("target-conventions");
        conventions.setEditable(true);
        conventions.setMaxWidth(Double.MAX_VALUE);
        conventions.setAccessibleText(Labels.of("target.conventions"));
        desk.targets().all().stream()
                .map(t -> t.conventions().code())
                .distinct()
                .forEach(conventions.getItems()::add);
        joints.setPromptText(Labels.of("target.no.limit"));
        triangles.setPromptText(Labels.of("target.no.limit"));
        HBox buttons = new HBox(
                8,
                Widgets.button("target-open", "target.open", () -> dialogs.target(this::use)),
                Widgets.spring(),
                Widgets.button("target-cancel", "editor.cancel", layer::hide),
                Widgets.mainButton("target-keep", "target.keep", () -> typed().ifPresent(this::keep)));
        getChildren()
                .addAll(
                        title,
                        Widgets.labelled("target.name", name),
                        Widgets.labelled("target.conventions", conventions),
                        Widgets.labelled("target.influences", influences),
                        Widgets.labelled("target.joints", joints),
                        Widgets.labelled("target.triangles", triangles),
                        trouble,
                        buttons);
        addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.ESCAPE) {
                layer.hide();
                e.consume();
            }
        });
    }

    private static TextField field(String id, int columns) {
        TextField field = new TextField();
        field.setId(id);
        field.setPrefColumnCount(columns);
        field.setAccessibleText(Labels.of(id.replace('-', '.')));
        return field;
    }

    void open() {
        show(desk.target().get());
        layer.show(this, Pos.TOP_RIGHT, new Insets(46, 14, 0, 0));
        name.requestFocus();
    }

    private void show(Target target) {
        trouble.setText("");
        name.setText(target.name());
        conventions.setValue(target.conventions().code());
        influences.setText(Integer.toString(target.influences()));
        joints.setText(limit(target.joints()));
        triangles.setText(limit(target.triangles()));
    }

    private static String limit(int number) {
        return number == Target.NO_LIMIT ? "" : Integer.toString(number);
    }

    /** What is typed, or nothing where something makes no sense, which is said. */
    private Optional<Target> typed() {
        Optional<Conventions> said = Conventions.parse(conventions.getEditor().getText());
        int most = number(influences, 255);
        int mostJoints = number(joints, Target.NO_LIMIT);
        int mostTriangles = number(triangles, Target.NO_LIMIT);
        if (name.getText().isBlank()) {
            trouble.setText(Labels.of("target.name.empty"));
        } else if (said.isEmpty()) {
            trouble.setText(
                    Labels.of("scale.declare.bad", conventions.getEditor().getText()));
        } else if (influences.getText().isBlank() || most < 1 || mostJoints < 1 || mostTriangles < 1) {
            trouble.setText(Labels.of("target.budget.bad"));
        } else {
            return Optional.of(new Target(name.getText().strip(), said.get(), most, mostJoints, mostTriangles));
        }
        return Optional.empty();
    }

    /** A whole number from 1 up; no limit where nothing is typed, -1 where it is none. */
    private static int number(TextField field, int most) {
        if (field.getText().isBlank()) {
            return Target.NO_LIMIT;
        }
        OptionalDouble typed = Lengths.number(field.getText());
        double value = typed.orElse(-1);
        return value >= 1 && value <= most && value == Math.rint(value) ? (int) value : -1;
    }

    private void keep(Target target) {
        desk.targets().keep(target);
        use(target);
    }

    private void use(Target target) {
        desk.target().set(target);
        layer.hide();
    }
}
