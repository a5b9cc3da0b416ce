package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Rules;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.ConventionsJson;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * A target's file. All but the conventions may be left out; nothing that is not understood is passed over, because a budget
 * with a slip in its name would be one that is never held to.
 */
public final class TargetJson {
    /** The value of a check in {@code "checks"} that is not run. */
    static final String OFF = "off";

    private static final List<String> SPELLED_OUT = List.of("metresPerUnit", "up", "forward", "handedness");
    private static final List<String> RULES = List.of("names", "jointsNeeded", "materialNames", "extensions", "rates");
    private static final double HIGHEST_RATE = 1000;

    private TargetJson() {}

    /** The target as {@link #read} takes it. */
    public static String write(Target target) {
        ObjectNode json = JsonMapper.shared().createObjectNode();
        json.put("name", target.name());
        json.put("conventions", target.conventions().code());
        for (Budget budget : Budget.values()) {
            Double limit = target.budgets().get(budget);
            if (limit != null) {
                put(json, budget.key(), limit);
            }
        }
        json.setAll(writeRules(target.rules()));
        return json.toPrettyString() + "\n";
    }

    private static void put(ObjectNode json, String key, double number) {
        if (number == Math.rint(number)) {
            json.put(key, (long) number);
        } else {
            json.put(key, number);
        }
    }

    /** The rules alone, as {@link #readRules} takes them. */
    public static ObjectNode writeRules(Rules rules) {
        ObjectNode json = JsonMapper.shared().createObjectNode();
        if (!rules.names().isEmpty()) {
            ArrayNode names = json.putArray("names");
            rules.names().forEach(n -> names.addObject().put("of", code(n.of())).put("pattern", n.pattern()));
        }
        if (!rules.joints().isEmpty()) {
            ArrayNode joints = json.putArray("jointsNeeded");
            for (Rules.Joint joint : rules.joints()) {
                ObjectNode one = joints.addObject().put("name", joint.name());
                if (!joint.parent().isEmpty()) {
                    one.put("parent", joint.parent());
                }
            }
        }
        rules.materials().ifPresent(m -> json.put("materialNames", m));
        rules.extensions().ifPresent(e -> e.forEach(json.putArray("extensions")::add));
        if (!rules.rates().isEmpty()) {
            ArrayNode rates = json.putArray("rates");
            rules.rates().forEach(rates::add);
        }
        if (!rules.gravity().isEmpty()) {
            ObjectNode checks = json.putObject("checks");
            Checks.ALL.forEach(check -> {
                Optional<Severity> own = rules.gravity().get(check.id());
                if (own != null) {
                    checks.put(check.id(), own.map(Severity::code).orElse(OFF));
                }
            });
        }
        return json;
    }

    static String code(Enum<?> value) {
        return value.name().toLowerCase(Locale.ROOT);
    }

    /**
     * A target from its file.
     *
     * @throws BadJson saying where, what was expected and what was found
     */
    public static Target read(String text) throws BadJson {
        ObjectNode json = object(text);
        boolean named = json.has("conventions");
        Set<String> known = new TreeSet<>(List.of("name", "$schema", "checks"));
        Arrays.stream(Budget.values()).map(Budget::key).forEach(known::add);
        known.addAll(RULES);
        known.addAll(named ? List.of("conventions") : SPELLED_OUT);
        refuseOthers(json, "", known);
        JsonNode said = named ? json.get("conventions") : json;
        Conventions conventions = ConventionsJson.read(said)
                .orElseThrow(() -> new BadJson(
                        "wrong.type",
                        "conventions",
                        "a name such as \"y-up-m-rh\", or an object with metresPerUnit, up, forward and handedness",
                        found(named ? said : json.path("conventions"))));
        Map<Budget, Double> budgets = new HashMap<>();
        for (Budget budget : Budget.values()) {
            JsonNode limit = json.path(budget.key());
            if (!limit.isMissingNode()) {
                if (!limit.isNumber() || !budget.takes(limit.doubleValue())) {
                    throw new BadJson("wrong.type", budget.key(), limits(budget), found(limit));
                }
                budgets.put(budget, limit.doubleValue());
            }
        }
        JsonNode name = json.path("name");
        if (!name.isMissingNode() && (!name.isString() || name.stringValue().isBlank())) {
            throw new BadJson("wrong.type", "name", "a name", found(name));
        }
        return new Target(name.asString(conventions.code()), conventions, budgets, rules(json));
    }

    /** What numbers a limit can be. */
    private static String limits(Budget budget) {
        return budget.whole()
                ? String.format(Locale.ROOT, "a whole number from 1 to %.0f", budget.highest())
                : "a number over 0";
    }

    /**
     * The rules alone.
     *
     * @throws BadJson as {@link #read}
     */
    public static Rules readRules(String text) throws BadJson {
        ObjectNode json = object(text.isBlank() ? "{}" : text);
        Set<String> known = new TreeSet<>(RULES);
        known.add("checks");
        refuseOthers(json, "", known);
        return rules(json);
    }

    private static ObjectNode object(String text) throws BadJson {
        try {
            if (JsonMapper.shared().readTree(text) instanceof ObjectNode json) {
                return json;
            }
        } catch (JacksonException e) {
            throw new BadJson("not.json", e.getOriginalMessage());
        }
        throw new BadJson("wrong.type", "the top", "an object", shortened(text));
    }

    private static Rules rules(ObjectNode json) throws BadJson {
        List<Rules.Names> names = new ArrayList<>();
        for (Entry one : entries(json, "names", "a list of objects with \"of\" and \"pattern\"")) {
            one.knowsOnly("of", "pattern");
            names.add(new Rules.Names(kind(one), one.text("pattern")));
        }
        List<Rules.Joint> joints = new ArrayList<>();
        for (Entry one :
                entries(json, "jointsNeeded", "a list of objects with \"name\" and, where it matters, \"parent\"")) {
            one.knowsOnly("name", "parent");
            joints.add(new Rules.Joint(one.text("name"), one.json.has("parent") ? one.text("parent") : ""));
        }
        Optional<String> materials =
                json.has("materialNames") ? Optional.of(new Entry("", json).text("materialNames")) : Optional.empty();
        Optional<List<String>> extensions =
                json.has("extensions") ? Optional.of(texts(json.get("extensions"))) : Optional.empty();
        return new Rules(names, joints, materials, extensions, rates(json.path("rates")), gravity(json.path("checks")));
    }

    private static Rules.Kind kind(Entry one) throws BadJson {
        String text = one.text("of");
        for (Rules.Kind kind : Rules.Kind.values()) {
            if (code(kind).equals(text)) {
                return kind;
            }
        }
        String all = Arrays.stream(Rules.Kind.values()).map(TargetJson::code).collect(Collectors.joining(", "));
        throw new BadJson("wrong.type", one.where + ".of", "one of " + all, found(one.json.path("of")));
    }

    private static List<String> texts(JsonNode list) throws BadJson {
        List<String> out = new ArrayList<>();
        boolean fits = list.isArray();
        for (JsonNode one : list) {
            fits &= one.isString();
            out.add(one.asString(""));
        }
        if (!fits) {
            throw new BadJson("wrong.type", "extensions", "a list of names of extensions", found(list));
        }
        return out;
    }

    private static List<Double> rates(JsonNode list) throws BadJson {
        List<Double> out = new ArrayList<>();
        boolean fits = list.isArray() || list.isMissingNode();
        for (JsonNode one : list) {
            double rate = one.asDouble(-1);
            fits &= one.isNumber() && rate > 0 && rate <= HIGHEST_RATE;
            out.add(rate);
        }
        if (!fits) {
            throw new BadJson("wrong.type", "rates", "a list of frames per second over 0 and up to 1000", found(list));
        }
        return out;
    }

    private static Map<String, Optional<Severity>> gravity(JsonNode checks) throws BadJson {
        if (!checks.isMissingNode() && !checks.isObject()) {
            throw new BadJson("wrong.type", "checks", "an object of checks and how grave they are", found(checks));
        }
        refuseOthers(
                checks, "checks.", Checks.ALL.stream().map(c -> c.id()).collect(Collectors.toCollection(TreeSet::new)));
        Map<String, Optional<Severity>> out = new HashMap<>();
        for (Map.Entry<String, JsonNode> one : checks.properties()) {
            String said = one.getValue().asString("");
            Optional<Severity> severity = Arrays.stream(Severity.values())
                    .filter(s -> s.code().equals(said))
                    .findFirst();
            if (severity.isEmpty() && !said.equals(OFF)) {
                throw new BadJson(
                        "wrong.type", "checks." + one.getKey(), "blocker, caution, note or off", found(one.getValue()));
            }
            out.put(one.getKey(), severity);
        }
        return out;
    }

    private static List<Entry> entries(ObjectNode json, String key, String expected) throws BadJson {
        JsonNode list = json.path(key);
        List<Entry> out = new ArrayList<>();
        boolean fits = list.isArray() || list.isMissingNode();
        for (JsonNode one : list) {
            fits &= one.isObject();
            out.add(new Entry(key + "[" + out.size() + "]", one));
        }
        if (!fits) {
            throw new BadJson("wrong.type", key, expected, found(list));
        }
        return out;
    }

    /** One object of a list, and where it stands. */
    private record Entry(String where, JsonNode json) {
        String text(String key) throws BadJson {
            JsonNode text = json.path(key);
            if (!text.isString() || text.stringValue().isBlank()) {
                throw new BadJson("wrong.type", where.isEmpty() ? key : where + "." + key, "a text", found(text));
            }
            return text.stringValue();
        }

        void knowsOnly(String... keys) throws BadJson {
            refuseOthers(json, where + ".", new TreeSet<>(List.of(keys)));
        }
    }

    private static void refuseOthers(JsonNode json, String where, Set<String> known) throws BadJson {
        for (String key : json.propertyNames()) {
            if (!known.contains(key)) {
                throw new BadJson("unknown.key", where + shortened(key), String.join(", ", known));
            }
        }
    }

    private static String found(JsonNode json) {
        return json.isMissingNode() ? "nothing" : shortened(json.toString());
    }

    private static String shortened(String text) {
        return text.length() <= 40 ? text : text.substring(0, 40) + "…";
    }
}
