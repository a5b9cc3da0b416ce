package org.cleanmarrow.checks;

import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Rules;
import org.cleanmarrow.json.ConventionsJson;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** The form of a target's file, a JSON Schema (2020-12). */
public final class TargetSchema {
    private TargetSchema() {}

    public static ObjectNode of() {
        ObjectNode schema = (ObjectNode) JsonMapper.shared().readTree("""
            {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "target.schema.json", "title": "Target",
             "type": "object", "additionalProperties": false,
             "anyOf": [{"required": ["conventions"]}, {"required": ["metresPerUnit", "up", "forward", "handedness"]}],
             "properties": {
               "$schema": {"type": "string"},
               "name": {"type": "string", "pattern": "\\\\S"},
               "conventions": %s,
               "metresPerUnit": {"type": "number", "exclusiveMinimum": 0},
               "up": {"type": "string"}, "forward": {"type": "string"}, "handedness": {"enum": ["right", "left"]},
               "names": {"type": "array", "items": {"type": "object", "additionalProperties": false,
                 "required": ["of", "pattern"], "properties": {"of": {}, "pattern": {"type": "string"}}}},
               "jointsNeeded": {"type": "array", "items": {"type": "object", "additionalProperties": false,
                 "required": ["name"], "properties": {"name": {"type": "string"}, "parent": {"type": "string"}}}},
               "materialNames": {"type": "string"},
               "extensions": {"type": "array", "items": {"type": "string"}},
               "rates": {"type": "array", "items": {"type": "number", "exclusiveMinimum": 0, "maximum": 1000}},
               "checks": {"type": "object", "additionalProperties": false, "properties": {}}}}""".formatted(ConventionsJson.SCHEMA));
        ObjectNode properties = (ObjectNode) schema.path("properties");
        for (Budget budget : Budget.values()) {
            ObjectNode limit = properties.putObject(budget.key());
            limit.put("type", budget.whole() ? "integer" : "number");
            limit.put(budget.whole() ? "minimum" : "exclusiveMinimum", budget.whole() ? 1 : 0);
            limit.put("maximum", budget.highest());
        }
        ArrayNode kinds = ((ObjectNode) properties.at("/names/items/properties/of")).putArray("enum");
        for (Rules.Kind kind : Rules.Kind.values()) {
            kinds.add(TargetJson.code(kind));
        }
        ObjectNode checks = (ObjectNode) properties.at("/checks/properties");
        Checks.ALL.forEach(check -> {
            ArrayNode gravity = checks.putObject(check.id()).putArray("enum");
            gravity.add("blocker").add("caution").add("note").add(TargetJson.OFF);
        });
        return schema;
    }
}
