package org.cleanmarrow.json;

import java.util.Optional;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Conventions as JSON: a short name such as {@code "z-up-cm-lh"}, or an object that spells them out. */
public final class ConventionsJson {
    /** The form of it, a JSON Schema (2020-12). */
    public static final String SCHEMA = """
        {"anyOf": [{"type": "string"}, {"type": "object", "additionalProperties": false,
          "required": ["metresPerUnit", "up", "forward", "handedness"], "properties": {
          "metresPerUnit": {"type": "number", "exclusiveMinimum": 0},
          "up": {"enum": ["x", "-x", "y", "-y", "z", "-z"]}, "forward": {"enum": ["x", "-x", "y", "-y", "z", "-z"]},
          "handedness": {"enum": ["right", "left"]}}}]}""";

    private ConventionsJson() {}

    /** {@code {"metresPerUnit", "up", "forward", "handedness"}}. */
    public static ObjectNode write(Conventions c) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("metresPerUnit", c.metresPerUnit());
        out.put("up", c.up().code());
        out.put("forward", c.forward().code());
        out.put("handedness", c.handedness().code());
        return out;
    }

    /** Reads either form; empty where it is neither. */
    public static Optional<Conventions> read(JsonNode json) {
        if (json.isString()) {
            return Conventions.parse(json.stringValue());
        }
        if (!json.isObject()) {
            return Optional.empty();
        }
        JsonNode metres = json.path("metresPerUnit");
        Optional<Axis> up = Axis.parse(json.path("up").asString(""));
        Optional<Axis> forward = Axis.parse(json.path("forward").asString(""));
        String hand = json.path("handedness").asString("");
        boolean handKnown = hand.equals("right") || hand.equals("left");
        if (!metres.isNumber() || up.isEmpty() || forward.isEmpty() || !handKnown) {
            return Optional.empty();
        }
        double unit = metres.doubleValue();
        if (!(unit > 0)
                || Double.isInfinite(unit)
                || up.get().dimension() == forward.get().dimension()) {
            return Optional.empty();
        }
        return Optional.of(new Conventions(
                unit, up.get(), forward.get(), hand.equals("right") ? Handedness.RIGHT : Handedness.LEFT));
    }
}
