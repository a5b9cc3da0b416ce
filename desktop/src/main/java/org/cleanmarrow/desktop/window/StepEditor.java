package org.cleanmarrow.desktop.window;

import java.lang.reflect.RecordComponent;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.ParameterTypes;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** The parameters of one recorded step, to be changed; the ledger then runs again. */
final class StepEditor extends VBox {
    private final Map<String, Supplier<JsonNode>> values = new LinkedHashMap<>();
    private final Label trouble = Widgets.sentence("");

    private StepEditor(Desk desk, Layer layer, int index, String name, Step step) {
        super(8);
        setId("step-editor");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(460, VBox.USE_PREF_SIZE);
        Label title = new Label(name);
        title.getStyleClass().add("title");
        getChildren()
                .addAll(title, Widgets.sentence(StepCodec.info(step.getClass()).says()));
        ObjectNode now = StepCodec.write(step);
        for (RecordComponent parameter : step.getClass().getRecordComponents()) {
            getChildren().add(row(parameter, now.get(parameter.getName())));
        }
        trouble.getStyleClass().add("trouble");
        trouble.setManaged(false);
        var apply = Widgets.mainButton("editor-apply", "editor.apply", () -> {
            try {
                Step changed = StepCodec.read(changed(now), name);
                layer.hide();
                desk.replaceStep(index, changed);
            } catch (BadJson e) {
                trouble.setManaged(true);
                trouble.setText(e.getMessage());
            }
        });
        getChildren()
                .addAll(trouble, Widgets.row(apply, Widgets.button("editor-cancel", "editor.cancel", layer::hide)));
        addEventFilter(KeyEvent.KEY_PRESSED, e -> {
            if (e.getCode() == KeyCode.ESCAPE) {
                layer.hide();
                e.consume();
            }
        });
    }

    /** Opens the editor for a step of the desk's ledger. */
    static void open(Desk desk, Layer layer, int index, String name) {
        Step step = desk.history().ledger().entries().get(index).step();
        StepEditor editor = new StepEditor(desk, layer, index, name, step);
        layer.show(editor, Pos.BOTTOM_CENTER, new Insets(0, 0, 86, 0));
        editor.requestFocus();
    }

    private HBox row(RecordComponent parameter, JsonNode value) {
        String name = parameter.getName();
        Node field = field(name, parameter, value);
        Label label = new Label(name);
        label.setMinWidth(96);
        label.getStyleClass().add("mono");
        label.setTooltip(new Tooltip(parameter.getAnnotation(Parameter.class).says()));
        HBox row = new HBox(10, label, field);
        row.setAlignment(Pos.CENTER_LEFT);
        HBox.setHgrow(field, Priority.ALWAYS);
        return row;
    }

    private Node field(String name, RecordComponent parameter, JsonNode value) {
        return switch (ParameterTypes.of(parameter).form()) {
            case CHOSEN -> {
                values.put(name, () -> value);
                yield Widgets.sentence(Labels.of("editor.vertices"));
            }
            case SWITCH -> {
                CheckBox box = new CheckBox();
                box.setId("edit-" + name);
                box.setSelected(value.asBoolean());
                values.put(name, () -> JsonNodeFactory.instance.booleanNode(box.isSelected()));
                yield box;
            }
            case CHOICE -> {
                ComboBox<String> box = new ComboBox<>();
                box.getItems().setAll(ParameterTypes.of(parameter).says().split("\\|"));
                box.setValue(value.asString());
                box.setId("edit-" + name);
                box.setAccessibleText(name);
                values.put(name, () -> JsonNodeFactory.instance.stringNode(box.getValue()));
                yield box;
            }
            case TEXT -> typed(name, value, JsonNodeFactory.instance::stringNode);
            case NUMBER -> typed(name, value, text -> parsed(text.replace(',', '.')));
            case STRUCTURE -> typed(name, value, StepEditor::parsed);
        };
    }

    private TextField typed(String name, JsonNode value, Function<String, JsonNode> read) {
        TextField field =
                new TextField(value.isNull() ? "" : value.isString() ? value.stringValue() : value.toString());
        field.setId("edit-" + name);
        field.setAccessibleText(name);
        values.put(name, () -> read.apply(field.getText().strip()));
        return field;
    }

    /** What is no JSON is taken as a text, which the step's reader then names as what it is not. */
    private static JsonNode parsed(String text) {
        try {
            return JsonMapper.shared().readTree(text);
        } catch (JacksonException e) {
            return JsonNodeFactory.instance.stringNode(text);
        }
    }

    private ObjectNode changed(ObjectNode now) {
        ObjectNode out = now.deepCopy();
        values.forEach((name, value) -> out.set(name, value.get()));
        return out;
    }
}
