package org.cleanmarrow.desktop.station;

import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.Selection;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.desktop.widgets.NameField;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.desktop.widgets.Widgets;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.ParameterType;
import org.cleanmarrow.json.ParameterTypes;
import org.cleanmarrow.ledger.StepCodec;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * The parameters of a step as a form, made from the step alone: switches, choices, numbers, names that are picked from what
 * there is, and vertices, for which the selection stands.
 */
public final class StepForm extends VBox {
    private static final Set<String> MESHES = Set.of("mesh", "body", "worn");
    private static final Set<String> PARTS = Set.of("part", "parts");
    private static final Set<String> NODES = Set.of("node", "joint", "below", "top", "to", "joints", "keep");
    private static final Set<String> CLIPS = Set.of("clip", "clips");

    private final Desk desk;
    private final Class<? extends Step> kind;
    private final ObjectNode start;
    private final boolean recorded;
    private final Map<String, Supplier<JsonNode>> values = new LinkedHashMap<>();

    /** The parameters of a step that was recorded; the vertices it names stay as they are. */
    public StepForm(Desk desk, Step step) {
        this(desk, step.getClass(), StepCodec.write(step), true);
    }

    /** A step to be made, with its defaults. */
    public StepForm(Desk desk, Class<? extends Step> kind) {
        this(desk, kind, defaults(kind), false);
    }

    private StepForm(Desk desk, Class<? extends Step> kind, ObjectNode start, boolean recorded) {
        super(6);
        this.desk = desk;
        this.kind = kind;
        this.start = start;
        this.recorded = recorded;
        for (RecordComponent parameter : kind.getRecordComponents()) {
            getChildren().add(row(parameter, start.get(parameter.getName())));
        }
    }

    private static ObjectNode defaults(Class<? extends Step> kind) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("step", StepCodec.info(kind).name());
        for (RecordComponent parameter : kind.getRecordComponents()) {
            String fallback = parameter.getAnnotation(Parameter.class).fallback();
            ParameterType<?> type = ParameterTypes.of(parameter);
            JsonNode value = fallback.isEmpty() ? type.toJson(type.example()) : parsed(fallback);
            boolean names = fallback.isEmpty() && type.form() == ParameterType.Form.TEXT;
            out.set(parameter.getName(), names ? JsonNodeFactory.instance.stringNode("") : value);
        }
        return out;
    }

    /**
     * The step as typed.
     *
     * @throws BadJson where something typed is no value of its parameter, or out of its range
     */
    public Step step() throws BadJson {
        ObjectNode out = start.deepCopy();
        values.forEach((name, value) -> out.set(name, value.get()));
        StepCodec.inRange(out, kind);
        return StepCodec.read(out, StepCodec.info(kind).name());
    }

    private HBox row(RecordComponent parameter, JsonNode value) {
        String name = parameter.getName();
        Node field = field(name, parameter, value);
        HBox row = Widgets.labelledBy(name, field);
        Parameter says = parameter.getAnnotation(Parameter.class);
        if (!says.unit().isEmpty()) {
            Label unit = new Label(says.unit());
            unit.getStyleClass().add("ink-2");
            unit.setMinWidth(USE_PREF_SIZE);
            row.getChildren().add(unit);
        }
        String range = StepCodec.range(says);
        String whole = range.isEmpty() ? says.says() : Labels.of("form.ranged", says.says(), range);
        Tips.say(row, whole);
        field.setAccessibleHelp(says.unit().isEmpty() ? whole : whole + " · " + says.unit());
        return row;
    }

    private Node field(String name, RecordComponent parameter, JsonNode value) {
        return switch (ParameterTypes.of(parameter).form()) {
            case CHOSEN -> {
                boolean selects = !recorded && parameter.getType() == VertexSet.class;
                values.put(name, () -> selects ? selection(parameter) : value);
                yield Widgets.sentence(Labels.of(selects ? "form.selection" : "editor.vertices"));
            }
            case SWITCH -> {
                CheckBox box = new CheckBox();
                box.setId("edit-" + name);
                box.setAccessibleText(name);
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
            case TEXT -> {
                boolean maybe = parameter.getType() == java.util.Optional.class;
                yield typed(
                        name,
                        value,
                        text -> maybe && text.isEmpty()
                                ? JsonNodeFactory.instance.nullNode()
                                : JsonNodeFactory.instance.stringNode(text));
            }
            case NUMBER -> typed(name, value, text -> parsed(text.replace(',', '.')));
            case STRUCTURE -> typed(name, value, StepForm::parsed);
        };
    }

    /** The selection, or all vertices where there is none. */
    private JsonNode selection(RecordComponent parameter) {
        Selection.Chosen chosen = desk.selection().chosen().get();
        VertexSet set = chosen.isEmpty()
                ? VertexSet.ALL
                : VertexSet.chosen(desk.now().meshes().get(chosen.mesh()), chosen.vertices());
        return ParameterTypes.of(parameter).toJson(set);
    }

    private TextField typed(String name, JsonNode value, Function<String, JsonNode> read) {
        TextField field = new NameField("edit-" + name, () -> names(name));
        field.setText(value == null || value.isNull() ? "" : value.isString() ? value.stringValue() : value.toString());
        field.setAccessibleText(name);
        values.put(name, () -> read.apply(field.getText().strip()));
        return field;
    }

    /** What there is of what a parameter names. */
    private List<String> names(String parameter) {
        if (!desk.isOpen()) {
            return List.of();
        }
        Asset asset = desk.now();
        List<String> out = new ArrayList<>();
        if (MESHES.contains(parameter)) {
            for (int m = 0; m < asset.meshes().size(); m++) {
                out.add(asset.meshRef(m));
            }
        } else if (CLIPS.contains(parameter)) {
            asset.clips().forEach(c -> out.add(c.name()));
        } else if (PARTS.contains(parameter) || NODES.contains(parameter)) {
            String[] refs = asset.nodeRefs();
            for (int n = 0; n < refs.length; n++) {
                if (NODES.contains(parameter) || asset.nodes().get(n).mesh() >= 0) {
                    out.add(refs[n]);
                }
            }
        }
        return out;
    }

    /** What is no JSON is taken as a text, which the step's reader then names as what it is not. */
    private static JsonNode parsed(String text) {
        try {
            return JsonMapper.shared().readTree(text);
        } catch (JacksonException e) {
            return JsonNodeFactory.instance.stringNode(text);
        }
    }
}
