package org.cleanmarrow.ledger;

import java.lang.reflect.Constructor;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.TreeSet;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.ParameterType;
import org.cleanmarrow.json.ParameterTypes;
import org.cleanmarrow.steps.Steps;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Steps to JSON and back, by the components of their records. */
public final class StepCodec {
    static final JsonMapper JSON = JsonMapper.builder().build();
    private static final Map<String, Class<? extends Step>> BY_NAME = new LinkedHashMap<>();
    private static final Map<String, Class<? extends Step>> FORMERLY = new HashMap<>();

    static {
        Steps.ALL.forEach(type -> BY_NAME.put(info(type).name(), type));
        Steps.ALL.forEach(type -> {
            for (String earlier : info(type).formerly()) {
                FORMERLY.put(earlier, type);
            }
        });
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
                out.set(
                        component.getName(),
                        ParameterTypes.of(component)
                                .toJson(component.getAccessor().invoke(step)));
            } catch (ReflectiveOperationException e) {
                throw new IllegalStateException(e);
            }
        }
        return out;
    }

    /**
     * Reads one step. Parameters that are left out take their default; unknown ones are an error, because a
     * mistyped name would otherwise silently do something else.
     *
     * @param where for messages, such as {@code step 3}
     */
    public static Step read(JsonNode json, String where) throws BadJson {
        if (!json.isObject()) {
            throw new BadJson("not.object", where);
        }
        String name = json.path("step").asString("");
        Class<? extends Step> type = BY_NAME.getOrDefault(name, FORMERLY.get(name));
        if (type == null) {
            throw new BadJson("unknown.step", where, name, String.join(", ", BY_NAME.keySet()));
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
            throw new BadJson("unknown.parameter", where, name, unknown.first());
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

    private static Object readParameter(JsonNode step, RecordComponent component, String where) throws BadJson {
        JsonNode given = step.get(component.getName());
        String fallback = component.getAnnotation(Parameter.class).fallback();
        if (given == null) {
            if (fallback.isEmpty()) {
                throw new BadJson(
                        "missing",
                        where,
                        component.getName(),
                        ParameterTypes.of(component).says());
            }
            given = JSON.readTree(fallback);
        }
        String at = where + " " + component.getName();
        ParameterType<?> type = ParameterTypes.of(component);
        Object value = type.read().read(given, at);
        if (value == null) {
            throw new BadJson("wrong.type", at, type.says(), shorten(given.toString()));
        }
        return value;
    }

    /**
     * Says where a number of a step lies outside the range that is stated for it. {@link #read} does not: a ledger with such a
     * number is read, and its step refuses.
     *
     * @throws BadJson naming the first
     */
    public static void inRange(JsonNode step, Class<? extends Step> kind) throws BadJson {
        for (RecordComponent component : kind.getRecordComponents()) {
            Parameter parameter = component.getAnnotation(Parameter.class);
            JsonNode given = step.path(component.getName());
            if (given.isNumber() && !(given.asDouble() >= parameter.least() && given.asDouble() <= parameter.most())) {
                throw new BadJson(
                        "out.of.range", info(kind).name(), component.getName(), range(parameter), given.asString());
            }
        }
    }

    /** The range of a number as it is said, such as {@code 1 to 255} or {@code at least 0}; empty where there is none. */
    public static String range(Parameter parameter) {
        boolean least = Double.isFinite(parameter.least());
        boolean most = Double.isFinite(parameter.most());
        String from = plain(parameter.least());
        String to = plain(parameter.most());
        return least && most ? from + " to " + to : least ? "at least " + from : most ? "at most " + to : "";
    }

    private static String plain(double number) {
        return number == Math.rint(number) ? Long.toString((long) number) : Double.toString(number);
    }

    /** Every step with its parameters, their types, units, ranges, defaults and a sentence: what {@code steps --json} prints. */
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
                p.put("type", ParameterTypes.of(component).says());
                p.put("required", parameter.fallback().isEmpty());
                if (!parameter.fallback().isEmpty()) {
                    p.set("default", JSON.readTree(parameter.fallback()));
                }
                p.put("says", parameter.says());
                if (!parameter.unit().isEmpty()) {
                    p.put("unit", parameter.unit());
                }
                if (Double.isFinite(parameter.least())) {
                    p.put("least", parameter.least());
                }
                if (Double.isFinite(parameter.most())) {
                    p.put("most", parameter.most());
                }
            }
        }
        return out;
    }

    private static String shorten(String text) {
        return text.length() <= 60 ? text : text.substring(0, 57) + "...";
    }
}
