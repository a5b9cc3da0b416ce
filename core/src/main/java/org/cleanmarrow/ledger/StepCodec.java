package org.cleanmarrow.ledger;

import java.lang.reflect.Constructor;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.reference.SkeletonOutline;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.VertexAmounts;
import org.cleanmarrow.step.VertexSet;
import org.cleanmarrow.steps.Steps;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Steps to JSON and back, by the components of their records. */
public final class StepCodec {
    static final JsonMapper JSON = JsonMapper.builder().build();
    private static final Map<String, Class<? extends Step>> BY_NAME = new LinkedHashMap<>();

    static {
        Steps.ALL.forEach(type -> BY_NAME.put(info(type).name(), type));
    }

    private StepCodec() {}

    /** Name and sentence of a step. */
    public static StepInfo info(Class<? extends Step> type) {
        return type.getAnnotation(StepInfo.class);
    }

    /** {@code {"step": name, …parameters}}. */
    public static ObjectNode write(Step step) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("step", info(step.getClass()).name());
        for (RecordComponent component : step.getClass().getRecordComponents()) {
            try {
                out.set(component.getName(), writeValue(component.getAccessor().invoke(step)));
            } catch (ReflectiveOperationException e) {
                throw new IllegalStateException(e);
            }
        }
        return out;
    }

    private static JsonNode writeValue(Object value) {
        JsonNodeFactory make = JsonNodeFactory.instance;
        return switch (value) {
            case String text -> make.stringNode(text);
            case Integer number -> make.numberNode(number);
            case Double number -> make.numberNode(number);
            case Boolean flag -> make.booleanNode(flag);
            case Optional<?> maybe -> maybe.map(StepCodec::writeValue).orElse(make.nullNode());
            case Map<?, ?> names -> {
                ObjectNode out = make.objectNode();
                names.forEach((from, to) -> out.put(String.valueOf(from), String.valueOf(to)));
                yield out;
            }
            case VertexSet set -> VertexSetJson.write(set);
            case VertexAmounts amounts -> VertexAmountsJson.write(amounts);
            case Conventions c -> ConventionsJson.write(c);
            case SkeletonOutline outline -> SkeletonOutlineJson.write(outline);
            case Enum<?> constant -> make.stringNode(constant.name().toLowerCase(Locale.ROOT));
            default -> throw new IllegalStateException("no JSON form for " + value.getClass());
        };
    }

    /**
     * Reads one step. Parameters that are left out take their default; unknown ones are an error, because a
     * mistyped name would otherwise silently do something else.
     *
     * @param where for messages, such as {@code step 3}
     */
    public static Step read(JsonNode json, String where) throws BadLedger {
        if (!json.isObject()) {
            throw new BadLedger("not.object", where);
        }
        String name = json.path("step").asString("");
        Class<? extends Step> type = BY_NAME.get(name);
        if (type == null) {
            throw new BadLedger("unknown.step", where, name, String.join(", ", BY_NAME.keySet()));
        }
        RecordComponent[] components = type.getRecordComponents();
        TreeSet<String> unknown = new TreeSet<>(json.propertyNames());
        unknown.remove("step");
        unknown.remove("off");
        Object[] values = new Object[components.length];
        for (int i = 0; i < components.length; i++) {
            unknown.remove(components[i].getName());
            values[i] = readParameter(json, components[i], where + " (" + name + ")");
        }
        if (!unknown.isEmpty()) {
            throw new BadLedger("unknown.parameter", where, name, unknown.first());
        }
        try {
            Class<?>[] types =
                    Arrays.stream(components).map(RecordComponent::getType).toArray(Class<?>[]::new);
            Constructor<? extends Step> make = type.getDeclaredConstructor(types);
            return make.newInstance(values);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Object readParameter(JsonNode step, RecordComponent component, String where) throws BadLedger {
        JsonNode given = step.get(component.getName());
        String fallback = component.getAnnotation(Parameter.class).fallback();
        if (given == null) {
            if (fallback.isEmpty()) {
                throw new BadLedger("missing", where, component.getName(), typeName(component));
            }
            given = JSON.readTree(fallback);
        }
        String at = where + " " + component.getName();
        Object value = readValue(given, component, at);
        if (value == null) {
            throw new BadLedger("wrong.type", at, typeName(component), shorten(given.toString()));
        }
        return value;
    }

    /** The value, or null where the JSON is not of the component's type. */
    private static Object readValue(JsonNode json, RecordComponent component, String where) throws BadLedger {
        Class<?> type = component.getType();
        if (type == String.class) {
            return json.isString() ? json.stringValue() : null;
        }
        if (type == int.class) {
            return json.isIntegralNumber() && json.canConvertToInt() ? json.intValue() : null;
        }
        if (type == double.class) {
            return json.isNumber() && Double.isFinite(json.doubleValue()) ? json.doubleValue() : null;
        }
        if (type == boolean.class) {
            return json.isBoolean() ? json.booleanValue() : null;
        }
        if (type == Optional.class) {
            if (json.isNull() || json.isString() && json.stringValue().isEmpty()) {
                return Optional.empty();
            }
            return json.isString() ? Optional.of(json.stringValue()) : null;
        }
        if (type == Map.class) {
            return readNames(json);
        }
        if (type == VertexSet.class) {
            return VertexSetJson.read(json, where);
        }
        if (type == VertexAmounts.class) {
            return VertexAmountsJson.read(json, where);
        }
        if (type == Conventions.class) {
            return ConventionsJson.read(json).orElse(null);
        }
        if (type == SkeletonOutline.class) {
            return SkeletonOutlineJson.read(json).orElse(null);
        }
        if (!type.isEnum()) {
            throw new IllegalStateException("no JSON is known for parameters of " + type);
        }
        for (Object constant : type.getEnumConstants()) {
            if (((Enum<?>) constant).name().equalsIgnoreCase(json.asString(""))) {
                return constant;
            }
        }
        return null;
    }

    private static Map<String, String> readNames(JsonNode json) {
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

    /** Every step with its parameters, their types, defaults and a sentence: what {@code steps --json} prints. */
    public static ObjectNode describeAll() {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        ArrayNode steps = out.putArray("steps");
        for (Class<? extends Step> type : Steps.ALL) {
            ObjectNode step = steps.addObject();
            step.put("step", info(type).name());
            step.put("says", info(type).says());
            ArrayNode parameters = step.putArray("parameters");
            for (RecordComponent component : type.getRecordComponents()) {
                Parameter parameter = component.getAnnotation(Parameter.class);
                ObjectNode p = parameters.addObject();
                p.put("name", component.getName());
                p.put("type", typeName(component));
                p.put("required", parameter.fallback().isEmpty());
                if (!parameter.fallback().isEmpty()) {
                    p.set("default", JSON.readTree(parameter.fallback()));
                }
                p.put("says", parameter.says());
            }
        }
        return out;
    }

    private static String typeName(RecordComponent component) {
        Class<?> type = component.getType();
        if (type.isEnum()) {
            return String.join(
                    "|",
                    Arrays.stream(type.getEnumConstants())
                            .map(c -> ((Enum<?>) c).name().toLowerCase(Locale.ROOT))
                            .toList());
        }
        if (type == Map.class) {
            return "object of texts";
        }
        if (component.getGenericType() instanceof ParameterizedType) {
            return "text or null";
        }
        return switch (type.getSimpleName()) {
            case "String" -> "text";
            case "int" -> "whole number";
            case "double" -> "number";
            case "boolean" -> "true or false";
            case "VertexSet" -> "vertices";
            case "VertexAmounts" -> "amounts by vertex";
            case "SkeletonOutline" -> "skeleton";
            default -> "conventions";
        };
    }

    private static String shorten(String text) {
        return text.length() <= 60 ? text : text.substring(0, 57) + "...";
    }
}
