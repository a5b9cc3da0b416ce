package org.cleanmarrow.ledger;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.step.Step;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * The ordered list of steps, as an immutable value. As text it is JSON:
 * {@code {"ledger": 1, "steps": [{"step": "add-root", "name": "root"}, …]}}; a step with {@code "off": true} is
 * kept and passed over.
 */
public record Ledger(List<Entry> entries) {
    public static final Ledger EMPTY = new Ledger(List.of());
    private static final int MOST_STEPS = 100_000;

    /** One step, in force or switched off. */
    public record Entry(Step step, boolean on) {}

    public Ledger {
        entries = List.copyOf(entries);
    }

    public Ledger plus(Step step) {
        List<Entry> more = new ArrayList<>(entries);
        more.add(new Entry(step, true));
        return new Ledger(more);
    }

    /** Only the first steps. */
    public Ledger first(int count) {
        return new Ledger(entries.subList(0, count));
    }

    /** The same with one step switched. */
    public Ledger switched(int index, boolean on) {
        List<Entry> changed = new ArrayList<>(entries);
        changed.set(index, new Entry(changed.get(index).step, on));
        return new Ledger(changed);
    }

    /** The same without one step. */
    public Ledger without(int index) {
        List<Entry> changed = new ArrayList<>(entries);
        changed.remove(index);
        return new Ledger(changed);
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
        return StepCodec.JSON.writerWithDefaultPrettyPrinter().writeValueAsString(out) + "\n";
    }

    /** @throws BadLedger when the text is not a ledger of this version, with the place */
    public static Ledger parse(String text) throws BadLedger {
        JsonNode json;
        try {
            json = StepCodec.JSON.readTree(text);
        } catch (JacksonException e) {
            throw new BadLedger("not.json", e.getOriginalMessage());
        }
        if (json == null || !json.isObject() || !json.path("steps").isArray()) {
            throw new BadLedger("form");
        }
        if (json.path("ledger").asInt(0) != 1) {
            throw new BadLedger("version", json.path("ledger").toString());
        }
        if (json.path("steps").size() > MOST_STEPS) {
            throw new BadLedger("long", MOST_STEPS);
        }
        List<Entry> entries = new ArrayList<>();
        int number = 1;
        for (JsonNode step : json.path("steps")) {
            Step read = StepCodec.read(step, "step " + number++);
            entries.add(new Entry(read, !step.path("off").asBoolean(false)));
        }
        return new Ledger(entries);
    }
}
