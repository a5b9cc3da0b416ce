package org.cleanmarrow.json;

import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.json.ParameterType.Form;
import org.cleanmarrow.json.ParameterType.Reader;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.reference.MeshOutline;
import org.cleanmarrow.reference.SkeletonOutline;
import org.cleanmarrow.work.Pulls;
import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Every type a step's parameter may have; choices are any enum. A new one is added by its line here. */
public final class ParameterTypes {
    private static final JsonNodeFactory MAKE = JsonNodeFactory.instance;
    private static final VertexSet SOME = VertexSet.numbers(BitSet.valueOf(new long[] {6}));
    private static final SkeletonOutline ONE_JOINT =
            new SkeletonOutline(List.of(new SkeletonOutline.Joint("a", "", new Vector3d(), new Quaterniond())));

    private static final MeshOutline ONE_TRIANGLE = MeshOutline.of(
            Mesh.of("a", Primitive.triangles(new int[] {0, 1, 2}, new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, null, -1)));

    public static final List<ParameterType<?>> ALL = List.of(
            of(
                    String.class,
                    "text",
                    Form.TEXT,
                    "a",
                    MAKE::stringNode,
                    (j, w) -> j.isString() ? j.stringValue() : null,
                    type("string")),
            of(int.class, "whole number", Form.NUMBER, 1, MAKE::numberNode, (j, w) -> whole(j), type("integer")),
            of(double.class, "number", Form.NUMBER, 0.5, MAKE::numberNode, (j, w) -> number(j), type("number")),
            of(
                    boolean.class,
                    "true or false",
                    Form.SWITCH,
                    true,
                    MAKE::booleanNode,
                    (j, w) -> j.isBoolean() ? j.booleanValue() : null,
                    type("boolean")),
            of(
                    Optional.class,
                    "text or null",
                    Form.TEXT,
                    Optional.of("a"),
                    ParameterTypes::maybe,
                    (j, w) -> maybe(j),
                    "{\"type\": [\"string\", \"null\"]}"),
            of(
                    List.class,
                    "list of texts",
                    Form.STRUCTURE,
                    List.of("a", "b"),
                    ParameterTypes::texts,
                    (j, w) -> texts(j),
                    "{\"type\": \"array\", \"items\": {\"type\": \"string\"}}"),
            of(
                    Map.class,
                    "object of texts",
                    Form.STRUCTURE,
                    Map.of("a", "b"),
                    ParameterTypes::names,
                    (j, w) -> names(j),
                    "{\"type\": \"object\", \"additionalProperties\": {\"type\": \"string\"}}"),
            of(
                    VertexSet.class,
                    "vertices",
                    Form.CHOSEN,
                    SOME,
                    VertexSetJson::write,
                    VertexSetJson::read,
                    VertexSetJson.SCHEMA),
            of(
                    VertexAmounts.class,
                    "amounts by vertex",
                    Form.CHOSEN,
                    new VertexAmounts(SOME, new float[] {0.5f, 1}),
                    VertexAmountsJson::write,
                    VertexAmountsJson::read,
                    VertexAmountsJson.SCHEMA),
            of(
                    Pulls.class,
                    "pulls on bodies",
                    Form.STRUCTURE,
                    new Pulls(List.of(new Pulls.Pull(1, "a", new Vector3d(), new Vector3d(0, 1, 0)))),
                    PullsJson::write,
                    (j, w) -> PullsJson.read(j),
                    PullsJson.SCHEMA),
            of(
                    Conventions.class,
                    "conventions",
                    Form.STRUCTURE,
                    Conventions.GLTF,
                    ConventionsJson::write,
                    (j, w) -> ConventionsJson.read(j).orElse(null),
                    ConventionsJson.SCHEMA),
            of(
                    SkeletonOutline.class,
                    "skeleton",
                    Form.CHOSEN,
                    ONE_JOINT,
                    SkeletonOutlineJson::write,
                    (j, w) -> SkeletonOutlineJson.read(j).orElse(null),
                    SkeletonOutlineJson.SCHEMA),
            of(
                    MeshOutline.class,
                    "mesh",
                    Form.CHOSEN,
                    ONE_TRIANGLE,
                    MeshOutlineJson::write,
                    (j, w) -> MeshOutlineJson.read(j).orElse(null),
                    MeshOutlineJson.SCHEMA));

    private ParameterTypes() {}

    /**
     * The type of a parameter.
     *
     * @throws IllegalStateException where none is registered for it
     */
    public static ParameterType<?> of(RecordComponent parameter) {
        Class<?> type = parameter.getType();
        if (type.isEnum()) {
            return choice(type.asSubclass(Enum.class));
        }
        Class<?> boxed = boxed(type);
        return ALL.stream()
                .filter(t -> t.type() == boxed)
                .findFirst()
                .orElseThrow(() -> new IllegalStateException("no parameter type is registered for " + type));
    }

    @SuppressWarnings("unchecked")
    private static <T> ParameterType<T> of(
            Class<T> type,
            String says,
            Form form,
            T example,
            Function<T, ? extends JsonNode> write,
            Reader<T> read,
            String schema) {
        return new ParameterType<>((Class<T>) boxed(type), says, form, example, write::apply, read, schema);
    }

    private static Class<?> boxed(Class<?> type) {
        return java.lang.invoke.MethodType.methodType(type).wrap().returnType();
    }

    @SuppressWarnings("rawtypes")
    private static ParameterType<Enum> choice(Class<? extends Enum> type) {
        Enum[] constants = type.getEnumConstants();
        String says = String.join(
                "|", Arrays.stream(constants).map(ParameterTypes::code).toList());
        return new ParameterType<>(
                Enum.class,
                says,
                Form.CHOICE,
                constants[0],
                c -> MAKE.stringNode(code(c)),
                (json, where) -> {
                    String given = json.asString("");
                    return Arrays.stream(constants)
                            .filter(c -> c.name().equalsIgnoreCase(given))
                            .findFirst()
                            .orElse(null);
                },
                "{\"enum\": [\"" + says.replace("|", "\", \"") + "\"]}");
    }

    private static String type(String name) {
        return "{\"type\": \"" + name + "\"}";
    }

    private static String code(Enum<?> constant) {
        return constant.name().toLowerCase(Locale.ROOT);
    }

    private static @Nullable Integer whole(JsonNode json) {
        return json.isIntegralNumber() && json.canConvertToInt() ? json.intValue() : null;
    }

    private static @Nullable Double number(JsonNode json) {
        return json.isNumber() && Double.isFinite(json.doubleValue()) ? json.doubleValue() : null;
    }

    private static JsonNode maybe(Optional<?> text) {
        return text.<JsonNode>map(t -> MAKE.stringNode(t.toString())).orElse(MAKE.nullNode());
    }

    private static @Nullable Optional<String> maybe(JsonNode json) {
        if (json.isNull() || json.isString() && json.stringValue().isEmpty()) {
            return Optional.empty();
        }
        return json.isString() ? Optional.of(json.stringValue()) : null;
    }

    private static JsonNode texts(List<?> texts) {
        ArrayNode out = MAKE.arrayNode();
        texts.forEach(t -> out.add(String.valueOf(t)));
        return out;
    }

    private static @Nullable List<String> texts(JsonNode json) {
        if (!json.isArray() || json.valueStream().anyMatch(t -> !t.isString())) {
            return null;
        }
        return json.valueStream().map(JsonNode::stringValue).toList();
    }

    private static JsonNode names(Map<?, ?> names) {
        ObjectNode out = MAKE.objectNode();
        names.forEach((from, to) -> out.put(String.valueOf(from), String.valueOf(to)));
        return out;
    }

    private static @Nullable Map<String, String> names(JsonNode json) {
        if (!json.isObject()) {
            return null;
        }
        Map<String, String> out = new LinkedHashMap<>();
        for (var entry : json.properties()) {
            if (!entry.getValue().isString()) {
                return null;
            }
            out.put(entry.getKey(), entry.getValue().stringValue());
        }
        return out;
    }
}
