package org.cleanmarrow.json;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.trial.TrialPose;
import org.joml.Quaterniond;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** Poses that were kept, as JSON: {@code [{"name": "reach", "joints": {"left_hand": [x, y, z, w], …}}, …]}. */
public final class PosesJson {
    /** The form of them, a JSON Schema (2020-12). */
    public static final String SCHEMA = """
        {"type": "array", "items": {"type": "object", "additionalProperties": false, "required": ["name", "joints"], "properties": {
          "name": {"type": "string"},
          "joints": {"type": "object", "additionalProperties": {
            "type": "array", "items": {"type": "number"}, "minItems": 4, "maxItems": 4}}}}}""";

    private PosesJson() {}

    public static ArrayNode write(List<TrialPose> poses) {
        ArrayNode out = JsonNodeFactory.instance.arrayNode();
        for (TrialPose pose : poses) {
            ObjectNode one = out.addObject();
            one.put("name", pose.name());
            ObjectNode joints = one.putObject("joints");
            new TreeMap<>(pose.stops().getLast())
                    .forEach((joint, q) ->
                            joints.putArray(joint).add(q.x).add(q.y).add(q.z).add(q.w));
        }
        return out;
    }

    public static List<TrialPose> read(JsonNode json) throws BadJson {
        List<TrialPose> out = new ArrayList<>();
        int number = 1;
        for (JsonNode pose : json) {
            String where = "pose " + number++;
            String name = pose.path("name").asString("");
            if (name.isBlank() || !pose.path("joints").isObject()) {
                throw new BadJson("pose", where);
            }
            Map<String, Quaterniond> turns = new TreeMap<>();
            for (var entry : pose.path("joints").properties()) {
                JsonNode q = entry.getValue();
                boolean four = q.size() == 4;
                for (JsonNode n : q) {
                    four &= n.isNumber();
                }
                if (!four) {
                    throw new BadJson("pose", where);
                }
                Quaterniond turn = new Quaterniond(
                        q.get(0).doubleValue(),
                        q.get(1).doubleValue(),
                        q.get(2).doubleValue(),
                        q.get(3).doubleValue());
                if (!(Math.abs(turn.lengthSquared() - 1) < 1e-3)) {
                    throw new BadJson("pose", where);
                }
                turns.put(entry.getKey(), turn);
            }
            out.add(TrialPose.to(name, turns));
        }
        return out;
    }
}
