package org.cleanmarrow.desktop.view;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.parts.Parts;
import org.cleanmarrow.desktop.text.Words;
import org.cleanmarrow.ledger.BadLedger;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.step.Step;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** The parameters of one recorded step, to be changed; the ledger then runs again. */
final class StepEditor extends VBox {
    private final Map<String, Supplier<JsonNode>> values = new LinkedHashMap<>();
    private final Label trouble = Parts.sentence("");

    private StepEditor(Desk desk, Layer layer, int index, String name, Step step) {
        super(8);
        setId("step-editor");
        getStyleClass().addAll("sheet", "raised");
        setMaxSize(460, VBox.USE_PREF_SIZE);
        Label title = new Label(name);
        title.getStyleClass().add("title");
        getChildren()
                .addAll(title, Parts.sentence(StepCodec.info(step.getClass()).says()));
        JsonNode described = described(step);
        ObjectNode now = StepCodec.write(step);
        for (JsonNode parameter : described.path("parameters")) {
            getChildren().add(row(parameter, now.get(parameter.path("name").asString())));
        }
        trouble.getStyleClass().add("trouble");
        trouble.setManaged(false);
        var apply = Parts.mainButton("editor-apply", "editor.apply", () -> {
            try {
                Step changed = StepCodec.read(changed(now), name);
                layer.hide();
                desk.replaceStep(index, changed);
            } catch (BadLedger e) {
                trouble.setManaged(true);
                trouble.setText(e.getMessage());
            }
        });
        getChildren().addAll(trouble, Parts.row(apply, Parts.button("editor-cancel", "editor.cancel", layer::hide)));
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

    private static JsonNode described(Step step) {
        String name = StepCodec.info(step.getClass()).name();
        for (JsonNode known : StepCodec.describeAll().path("steps")) {
            if (known.path("step").asString().equals(name)) {
                return known;
            }
        }
        throw new IllegalStateException("no such step: " + name);
    }

    private HBox row(JsonNode parameter, JsonNode value) {
        String name = parameter.path("name").asString();
        Node field = field(name, parameter.path("type").asString(), value);
        Label label = new Label(name);
        label.setMinWidth(96);
        label.getStyleClass().add("mono");
        label.setTooltip(new javafx.scene.control.Tooltip(parameter.path("says").asString()));
        HBox row = new HBox(10, label, field);
        row.setAlignment(Pos.CENTER_LEFT);
        HBox.setHgrow(field, javafx.scene.layout.Priority.ALWAYS);
        return row;
    }

    private Node field(String name, String type, JsonNode value) {
        if (type.equals("vertices")) {
            values.put(name, () -> value);
            return Parts.sentence(Words.of("editor.vertices"));
        }
        if (type.equals("true or false")) {
            CheckBox box = new CheckBox();
            box.setId("edit-" + name);
            box.setSelected(value.asBoolean());
            values.put(name, () -> JsonNodeFactory.instance.booleanNode(box.isSelected()));
            return box;
        }
        TextField field =
                new TextField(value.isNull() ? "" : value.isString() ? value.stringValue() : value.toString());
        field.setId("edit-" + name);
        field.setAccessibleText(name);
        boolean number = type.contains("number");
        values.put(name, () -> typed(field.getText().strip(), number, value));
        return field;
    }

    private static JsonNode typed(String text, boolean number, JsonNode before) {
        if (number || before.isObject() && text.startsWith("{")) {
            try {
                return JsonMapper.shared().readTree(text.replace(',', number ? '.' : ','));
            } catch (JacksonException e) {
                return JsonNodeFactory.instance.stringNode(text);
            }
        }
        return JsonNodeFactory.instance.stringNode(text);
    }

    private ObjectNode changed(ObjectNode now) {
        ObjectNode out = now.deepCopy();
        values.forEach((name, value) -> out.set(name, value.get()));
        return out;
    }
}
