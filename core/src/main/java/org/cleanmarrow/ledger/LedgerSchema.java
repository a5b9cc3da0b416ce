package org.cleanmarrow.ledger;

import java.lang.reflect.RecordComponent;
import org.cleanmarrow.json.ParameterTypes;
import org.cleanmarrow.json.PosesJson;
import org.cleanmarrow.json.VertexSetJson;
import org.cleanmarrow.steps.Steps;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Step;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * The form of a ledger as {@link Ledger#toJson} writes it, a JSON Schema (2020-12): every step with its parameters. Names that steps had
 * earlier are read and not listed.
 */
public final class LedgerSchema {
    private LedgerSchema() {}

    public static ObjectNode of() {
        ObjectNode schema = object("""
            {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": "ledger.schema.json", "title": "Ledger",
             "type": "object", "additionalProperties": false, "required": ["ledger", "steps"], "properties": {
               "ledger": {"const": 1},
               "steps": {"type": "array", "items": {"$ref": "#/$defs/step"}},
               "choices": {"type": "array", "items": {"type": "object", "additionalProperties": false,
                 "required": ["name", "mesh", "vertices"], "properties": {
                 "name": {"type": "string"}, "mesh": {"type": "string"}, "vertices": %s}}},
               "poses": %s,
               "delivery": {"type": "object", "description": "what a delivery consists of, a recipe"}}}""".formatted(VertexSetJson.SCHEMA, PosesJson.SCHEMA));
        ArrayNode kinds = schema.putObject("$defs").putObject("step").putArray("oneOf");
        Steps.ALL.forEach(kind -> kinds.add(step(kind)));
        return schema;
    }

    private static ObjectNode step(Class<? extends Step> kind) {
        ObjectNode out = object("{\"type\": \"object\", \"additionalProperties\": false}");
        out.put("description", StepCodec.info(kind).says());
        ArrayNode required = out.putArray("required").add("step");
        ObjectNode properties = out.putObject("properties");
        properties.putObject("step").put("const", StepCodec.info(kind).name());
        properties.putObject("off").put("const", true);
        for (RecordComponent component : kind.getRecordComponents()) {
            Parameter parameter = component.getAnnotation(Parameter.class);
            ObjectNode property = object(ParameterTypes.of(component).schema());
            property.put("description", parameter.says());
            if (Double.isFinite(parameter.least())) {
                property.put("minimum", parameter.least());
            }
            if (Double.isFinite(parameter.most())) {
                property.put("maximum", parameter.most());
            }
            if (parameter.fallback().isEmpty()) {
                required.add(component.getName());
            } else {
                property.set("default", json(parameter.fallback()));
            }
            properties.set(component.getName(), property);
        }
        return out;
    }

    private static ObjectNode object(String text) {
        return (ObjectNode) json(text);
    }

    private static JsonNode json(String text) {
        return StepCodec.JSON.readTree(text);
    }
}
