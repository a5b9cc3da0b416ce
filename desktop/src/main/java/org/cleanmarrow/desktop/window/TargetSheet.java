package org.cleanmarrow.desktop.window;

import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import javafx.event.Event;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.checks.TargetJson;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Lengths;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.FileDialogs;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.json.BadJson;
import tools.jackson.databind.node.ObjectNode;

/** The target worked for: its conventions and budgets, changed, kept under a name, or taken from a file. */
final class TargetSheet extends VBox {
    private final Desk desk;
    private final Layer layer;
    private final TextField name = field("target-name", 20);
    private final ComboBox<String> conventions = new ComboBox<>();
    private final Map<Budget, TextField> budgets = new EnumMap<>(Budget.class);
    private final TextArea rules = new TextArea();
    private final Label trouble = Widgets.twoLines("target-trouble");

    TargetSheet(Desk desk, FileDialogs dialogs, Layer layer) {
        super(8);
        this.desk = desk;
        this.layer = layer;
        setId("target-sheet");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(600, VBox.USE_PREF_SIZE);
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
        GridPane limits = new GridPane(12, 6);
        for (Budget budget : Budget.values()) {
            TextField field = field("target-" + budget.key(), 8);
            field.setPromptText(
                    budget == Budget.INFLUENCES
                            ? Integer.toString(Target.USUAL_INFLUENCES)
                            : Labels.of("target.no.limit"));
            int place = budgets.size();
            Label label = new Label(Labels.of("target." + budget.key()));
            label.setLabelFor(field);
            label.getStyleClass().add("ink-2");
            limits.addRow(place / 2, label, field);
            budgets.put(budget, field);
        }
        rules.setId("target-rules");
        rules.setPrefRowCount(5);
        rules.addEventFilter(KeyEvent.KEY_PRESSED, this::walk);
        rules.setAccessibleText(Labels.of("target.rules"));
        rules.setPromptText(Labels.of("target.rules.prompt"));
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
                        Widgets.sentence(Labels.of("target.limits")),
                        limits,
                        Widgets.sentence(Labels.of("target.rules")),
                        rules,
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

    /** Tab goes on to what comes next, as from every other field; with Ctrl the toolkit has it do so already. */
    private void walk(KeyEvent key) {
        if (key.getCode() == KeyCode.TAB && !key.isControlDown()) {
            key.consume();
            Event.fireEvent(
                    rules,
                    new KeyEvent(KeyEvent.KEY_PRESSED, "", "", KeyCode.TAB, key.isShiftDown(), true, false, false));
        }
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
        budgets.forEach((budget, field) -> {
            Double limit = target.budgets().get(budget);
            field.setText(limit == null ? "" : plain(limit));
        });
        ObjectNode written = TargetJson.writeRules(target.rules());
        rules.setText(written.isEmpty() ? "" : written.toPrettyString());
    }

    private static String plain(double limit) {
        return limit == Math.rint(limit) ? Long.toString((long) limit) : Double.toString(limit);
    }

    /** What is typed, or nothing where something makes no sense, which is said. */
    private Optional<Target> typed() {
        Optional<Conventions> said = Conventions.parse(conventions.getEditor().getText());
        if (name.getText().isBlank()) {
            trouble.setText(Labels.of("target.name.empty"));
            return Optional.empty();
        }
        if (said.isEmpty()) {
            trouble.setText(
                    Labels.of("scale.declare.bad", conventions.getEditor().getText()));
            return Optional.empty();
        }
        Target typed = Target.of(said.get()).called(name.getText().strip());
        for (Map.Entry<Budget, TextField> one : budgets.entrySet()) {
            String text = one.getValue().getText();
            if (text.isBlank()) {
                continue;
            }
            double limit = Lengths.number(text).orElse(-1);
            if (!one.getKey().takes(limit)) {
                trouble.setText(Labels.of(
                        "target.budget.bad", Labels.of("target." + one.getKey().key())));
                return Optional.empty();
            }
            typed = typed.with(one.getKey(), limit);
        }
        try {
            return Optional.of(typed.with(TargetJson.readRules(rules.getText())));
        } catch (BadJson e) {
            trouble.setText(e.getMessage());
            return Optional.empty();
        }
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
