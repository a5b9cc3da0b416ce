package org.cleanmarrow.json;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.reference.SkeletonOutline;
import org.joml.Quaterniond;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** A reference skeleton as JSON: {@code [{"name", "parent", "placeMetres": [x, y, z], "axes": [x, y, z, w]}, …]}. */
public final class SkeletonOutlineJson {
    private static final int MOST_JOINTS = 65_536;
    private static final double NEAR_UNIT = 1e-3;

    /** The form of it, a JSON Schema (2020-12). */
    static final String SCHEMA = """
        {"type": "array", "items": {"type": "object", "additionalProperties": false,
          "required": ["name", "parent", "placeMetres", "axes"], "properties": {
          "name": {"type": "string"}, "parent": {"type": "string"},
          "placeMetres": {"type": "array", "items": {"type": "number"}, "minItems": 3, "maxItems": 3},
          "axes": {"type": "array", "items": {"type": "number"}, "minItems": 4, "maxItems": 4}}}}""";

    private SkeletonOutlineJson() {}

    public static ArrayNode write(SkeletonOutline outline) {
        ArrayNode out = JsonNodeFactory.instance.arrayNode();
        for (SkeletonOutline.Joint joint : outline.joints()) {
            ObjectNode one = out.addObject();
            one.put("name", joint.name());
            one.put("parent", joint.parent());
            Vector3d p = joint.place();
            one.putArray("placeMetres").add(p.x).add(p.y).add(p.z);
            Quaterniond q = joint.axes();
            one.putArray("axes").add(q.x).add(q.y).add(q.z).add(q.w);
        }
        return out;
    }

    /** Empty where it is not of that form. */
    public static Optional<SkeletonOutline> read(JsonNode json) {
        if (!json.isArray() || json.size() > MOST_JOINTS) {
            return Optional.empty();
        }
        List<SkeletonOutline.Joint> joints = new ArrayList<>();
        for (JsonNode one : json) {
            double[] place = numbers(one.path("placeMetres"), 3);
            double[] axes = numbers(one.path("axes"), 4);
            if (!one.path("name").isString() || !one.path("parent").isString() || place == null || axes == null) {
                return Optional.empty();
            }
            Quaterniond turn = new Quaterniond(axes[0], axes[1], axes[2], axes[3]);
            if (!(Math.abs(turn.lengthSquared() - 1) <= NEAR_UNIT)) {
                return Optional.empty();
            }
            joints.add(new SkeletonOutline.Joint(
                    one.path("name").stringValue(),
                    one.path("parent").stringValue(),
                    new Vector3d(place[0], place[1], place[2]),
                    turn));
        }
        return Optional.of(new SkeletonOutline(joints));
    }

    private static double @Nullable [] numbers(JsonNode json, int count) {
        if (!json.isArray() || json.size() != count) {
            return null;
        }
        double[] out = new double[count];
        for (int i = 0; i < count; i++) {
            if (!json.get(i).isNumber() || !Double.isFinite(json.get(i).doubleValue())) {
                return null;
            }
            out[i] = json.get(i).doubleValue();
        }
        return out;
    }
}
