package org.cleanmarrow.json;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.work.Pulls;
import org.joml.Vector3d;
import org.joml.Vector3dc;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;

/** {@link Pulls} as a list of objects: {@code {"frame": 12, "node": "link_4", "at": [0, 0, 0], "to": [0, 1, 0]}}. */
final class PullsJson {
    private static final String POINT =
            "{\"type\": \"array\", \"items\": {\"type\": \"number\"}, \"minItems\": 3, \"maxItems\": 3}";

    static final String SCHEMA =
            "{\"type\": \"array\", \"items\": {\"type\": \"object\", \"required\": [\"frame\", \"node\", \"at\", \"to\"],"
                    + " \"properties\": {\"frame\": {\"type\": \"integer\", \"minimum\": 1}, \"node\": {\"type\":"
                    + " \"string\"}, \"at\": "
                    + POINT
                    + ", \"to\": "
                    + POINT
                    + "}, \"additionalProperties\": false}}";

    private PullsJson() {}

    static JsonNode write(Pulls pulls) {
        ArrayNode out = JsonNodeFactory.instance.arrayNode();
        for (Pulls.Pull pull : pulls.list()) {
            out.addObject()
                    .put("frame", pull.frame())
                    .put("node", pull.node())
                    .<tools.jackson.databind.node.ObjectNode>set("at", numbers(pull.at()))
                    .set("to", numbers(pull.to()));
        }
        return out;
    }

    private static ArrayNode numbers(Vector3dc v) {
        return JsonNodeFactory.instance.arrayNode().add(v.x()).add(v.y()).add(v.z());
    }

    static @Nullable Pulls read(JsonNode json) {
        if (!json.isArray()) {
            return null;
        }
        List<Pulls.Pull> out = new ArrayList<>();
        for (JsonNode one : json) {
            Vector3d at = point(one.path("at"));
            Vector3d to = point(one.path("to"));
            JsonNode frame = one.path("frame");
            boolean said = frame.isIntegralNumber()
                    && frame.canConvertToInt()
                    && frame.intValue() >= 1
                    && one.path("node").isString();
            if (!said || at == null || to == null) {
                return null;
            }
            out.add(new Pulls.Pull(frame.intValue(), one.path("node").stringValue(), at, to));
        }
        return new Pulls(out);
    }

    private static @Nullable Vector3d point(JsonNode json) {
        if (!json.isArray() || json.size() != 3) {
            return null;
        }
        double[] x = new double[3];
        for (int i = 0; i < 3; i++) {
            if (!json.get(i).isNumber() || !Double.isFinite(json.get(i).doubleValue())) {
                return null;
            }
            x[i] = json.get(i).doubleValue();
        }
        return new Vector3d(x[0], x[1], x[2]);
    }
}
