package org.cleanmarrow.json;

import java.util.Base64;
import java.util.Optional;
import org.cleanmarrow.reference.MeshOutline;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** A mesh whose order is wanted, as JSON: {@code {"vertices": 12938, "triangles": 25024, "data": "eJx…"}}; the counts are for who reads it. */
final class MeshOutlineJson {
    /** The form of it, a JSON Schema (2020-12). */
    static final String SCHEMA = """
        {"type": "object", "additionalProperties": false, "required": ["data"], "properties": {
          "vertices": {"type": "integer"}, "triangles": {"type": "integer"},
          "data": {"type": "string", "contentEncoding": "base64"}}}""";

    private MeshOutlineJson() {}

    static ObjectNode write(MeshOutline outline) {
        ObjectNode out = JsonNodeFactory.instance.objectNode();
        out.put("vertices", outline.mesh().vertexCount());
        out.put("triangles", outline.mesh().triangleCount());
        out.put("data", Base64.getEncoder().encodeToString(outline.packed()));
        return out;
    }

    /** Empty where it is not of that form. */
    static Optional<MeshOutline> read(JsonNode json) {
        try {
            return MeshOutline.unpack(
                    Base64.getDecoder().decode(json.path("data").asString("")));
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }
}
