package org.cleanmarrow.json;

import org.cleanmarrow.work.VertexAmounts;
import org.cleanmarrow.work.VertexSet;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Amounts by vertex as JSON: {@code {"vertices": …, "amounts": [0.5, …]}}. */
public final class VertexAmountsJson {
    /** The form of it, a JSON Schema (2020-12). */
    static final String SCHEMA = """
        {"type": "object", "additionalProperties": false, "required": ["vertices", "amounts"], "properties": {
          "vertices": %s, "amounts": {"type": "array", "items": {"type": "number", "minimum": 0, "maximum": 1}}}}""".formatted(VertexSetJson.SCHEMA);

    private VertexAmountsJson() {}

    public static JsonNode write(VertexAmounts amounts) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.set("vertices", VertexSetJson.write(amounts.vertices()));
        ArrayNode list = out.putArray("amounts");
        for (float amount : amounts.amounts()) {
            list.add(amount);
        }
        return out;
    }

    /** Null where it is not of that form. */
    public static @Nullable VertexAmounts read(JsonNode json, String where) throws BadJson {
        JsonNode list = json.path("amounts");
        if (!json.isObject() || !list.isArray()) {
            return null;
        }
        VertexSet vertices = VertexSetJson.read(json.path("vertices"), where);
        if (vertices == null
                || vertices.everything()
                || list.size() != vertices.vertices().cardinality()) {
            return null;
        }
        float[] amounts = new float[list.size()];
        for (int i = 0; i < amounts.length; i++) {
            if (!list.get(i).isNumber()) {
                return null;
            }
            amounts[i] = list.get(i).floatValue();
            if (!(amounts[i] >= 0 && amounts[i] <= 1)) {
                return null;
            }
        }
        return new VertexAmounts(vertices, amounts);
    }
}
