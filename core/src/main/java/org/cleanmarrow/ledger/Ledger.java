package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;
import org.cleanmarrow.json.BadJson;
import org.cleanmarrow.json.PosesJson;
import org.cleanmarrow.json.VertexSetJson;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * The ordered list of steps, chosen vertices that were given a name, and poses that were kept, as an immutable value. As
 * text it is JSON: {@code {"ledger": 1, "steps": [{"step": "add-root", "name": "root"}, …], "choices": [{"name", "mesh",
 * "vertices"}, …], "poses": [{"name", "joints": {"left_hand": [x, y, z, w], …}}, …], "delivery": {…}}}; a step with {@code "off": true} is
 * kept and passed over.
 *
 * @param delivery what a delivery of it consists of, a JSON object that whoever delivers can read; empty where nothing was said
 */
public record Ledger(List<Entry> entries, List<Choice> choices, List<TrialPose> poses, String delivery) {
    public static final Ledger EMPTY = new Ledger(List.of());
    private static final int MOST_STEPS = 100_000;

    /** One step, in force or switched off. */
    public record Entry(Step step, boolean on) {}

    /** Vertices that were given a name, to be chosen again. */
    public record Choice(String name, String mesh, VertexSet vertices) {}

    public Ledger {
        entries = List.copyOf(entries);
        choices = List.copyOf(choices);
        poses = List.copyOf(poses);
    }

    public Ledger(List<Entry> entries) {
        this(entries, List.of(), List.of(), "");
    }

    private Ledger with(UnaryOperator<List<Entry>> change) {
        return new Ledger(change.apply(new ArrayList<>(entries)), choices, poses, delivery);
    }

    public Ledger plus(Step step) {
        return with(list -> {
            list.add(new Entry(step, true));
            return list;
        });
    }

    /** Only the first steps. */
    public Ledger first(int count) {
        return with(list -> list.subList(0, count));
    }

    /** The same with one step switched. */
    public Ledger switched(int index, boolean on) {
        return with(list -> {
            list.set(index, new Entry(list.get(index).step, on));
            return list;
        });
    }

    /** The same without one step. */
    public Ledger without(int index) {
        return with(list -> {
            list.remove(index);
            return list;
        });
    }

    /** The same with another step in one's place. */
    public Ledger replaced(int index, Step step) {
        return with(list -> {
            list.set(index, new Entry(step, list.get(index).on));
            return list;
        });
    }

    /** The same with several steps in one's place, in force or not as it was. */
    public Ledger opened(int index, List<Step> steps) {
        return with(list -> {
            boolean on = list.remove(index).on;
            list.addAll(index, steps.stream().map(s -> new Entry(s, on)).toList());
            return list;
        });
    }

    /** The same with one step taken out and put in again so that it becomes number {@code to}. */
    public Ledger moved(int from, int to) {
        return with(list -> {
            list.add(to, list.remove(from));
            return list;
        });
    }

    /** The same with a named choice, in place of one of that name. */
    public Ledger keeping(Choice choice) {
        List<Choice> more = new ArrayList<>(forgetting(choice.name).choices);
        more.add(choice);
        return new Ledger(entries, more, poses, delivery);
    }

    /** The same without the named choice. */
    public Ledger forgetting(String choice) {
        return new Ledger(
                entries, choices.stream().filter(c -> !c.name.equals(choice)).toList(), poses, delivery);
    }

    /** The same with a pose, in place of one of that name. */
    public Ledger keeping(TrialPose pose) {
        List<TrialPose> more = new ArrayList<>(poses);
        more.removeIf(p -> p.name().equals(pose.name()));
        more.add(pose);
        return new Ledger(entries, choices, more, delivery);
    }

    /** The same with what a delivery consists of, a JSON object. */
    public Ledger delivering(String recipe) {
        return new Ledger(entries, choices, poses, recipe);
    }

    public boolean isEmpty() {
        return entries.isEmpty() && choices.isEmpty() && poses.isEmpty() && delivery.isEmpty();
    }

    public String toJson() {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("ledger", 1);
        ArrayNode steps = out.putArray("steps");
        for (Entry entry : entries) {
            ObjectNode step = StepCodec.write(entry.step);
            if (!entry.on) {
                step.put("off", true);
            }
            steps.add(step);
        }
        if (!choices.isEmpty()) {
            ArrayNode named = out.putArray("choices");
            for (Choice choice : choices) {
                ObjectNode c = named.addObject();
                c.put("name", choice.name);
                c.put("mesh", choice.mesh);
                c.set("vertices", VertexSetJson.write(choice.vertices));
            }
        }
        if (!poses.isEmpty()) {
            out.set("poses", PosesJson.write(poses));
        }
        if (!delivery.isEmpty()) {
            out.set("delivery", StepCodec.JSON.readTree(delivery));
        }
        return StepCodec.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(out) + "\n";
    }

    /** @throws BadJson when the text is not a ledger of this version, with the place */
    public static Ledger parse(String text) throws BadJson {
        JsonNode json;
        try {
            json = StepCodec.JSON.readTree(text);
        } catch (JacksonException e) {
            throw new BadJson("not.json", e.getOriginalMessage());
        }
        if (json == null || !json.isObject() || !json.path("steps").isArray()) {
            throw new BadJson("form");
        }
        if (json.path("ledger").asInt(0) != 1) {
            throw new BadJson("version", json.path("ledger").toString());
        }
        if (json.path("steps").size() > MOST_STEPS) {
            throw new BadJson("long", MOST_STEPS);
        }
        List<Entry> entries = new ArrayList<>();
        int number = 1;
        for (JsonNode step : json.path("steps")) {
            Step read = StepCodec.read(step, "step " + number++);
            entries.add(new Entry(read, !step.path("off").asBoolean(false)));
        }
        JsonNode delivery = json.path("delivery");
        if (!delivery.isMissingNode() && !delivery.isObject()) {
            throw new BadJson("delivery", delivery.toString());
        }
        return new Ledger(
                entries,
                readChoices(json.path("choices")),
                PosesJson.read(json.path("poses")),
                delivery.isMissingNode() ? "" : delivery.toString());
    }

    private static List<Choice> readChoices(JsonNode json) throws BadJson {
        List<Choice> choices = new ArrayList<>();
        int number = 1;
        for (JsonNode choice : json) {
            String where = "choice " + number++;
            String name = choice.path("name").asString("");
            if (name.isBlank() || !choice.path("mesh").isString() || !choice.has("vertices")) {
                throw new BadJson("choice", where);
            }
            VertexSet vertices = VertexSetJson.read(choice.get("vertices"), where);
            choices.add(new Choice(name, choice.path("mesh").stringValue(), vertices));
        }
        return choices;
    }
}
