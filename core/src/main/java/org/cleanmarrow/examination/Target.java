package org.cleanmarrow.examination;

import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.json.ConventionsJson;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * What the receiving side expects.
 *
 * @param name       as the user names it
 * @param influences joints a vertex at most
 * @param joints     joints at most
 * @param triangles  triangles at most, over all parts that are exported
 */
public record Target(String name, Conventions conventions, int influences, int joints, int triangles) {
    /** Influences a vertex that every receiving side takes (glTF 2.0, 3.7.3.3: one set of four must be supported). */
    public static final int USUAL_INFLUENCES = 4;

    /** More than there ever are; for targets that set no limit. */
    public static final int NO_LIMIT = Integer.MAX_VALUE;

    /** A target without a budget of triangles. */
    public Target(String name, Conventions conventions, int influences, int joints) {
        this(name, conventions, influences, joints, NO_LIMIT);
    }

    public static Target of(Conventions conventions) {
        return new Target(conventions.code(), conventions, USUAL_INFLUENCES, NO_LIMIT);
    }

    /** A target by the name of its conventions, such as {@code z-up-cm-lh}. */
    public static Optional<Target> named(String name) {
        return Conventions.parse(name).map(c -> new Target(name, c, USUAL_INFLUENCES, NO_LIMIT));
    }

    /** The target as {@link #fromJson} reads it; budgets that set no limit are left out. */
    public String toJson() {
        ObjectNode json = JsonMapper.shared().createObjectNode();
        json.put("name", name);
        json.put("conventions", conventions.code());
        json.put("influences", influences);
        if (joints != NO_LIMIT) {
            json.put("joints", joints);
        }
        if (triangles != NO_LIMIT) {
            json.put("triangles", triangles);
        }
        return json.toPrettyString() + "\n";
    }

    /**
     * A target from JSON: {@code {"name", "conventions": name or object, "influences": 4, "joints": 120, "triangles": 60000}}; the conventions may
     * also be spelled out at the top.
     *
     * @return empty where it is not of that form
     */
    public static Optional<Target> fromJson(String text) {
        try {
            JsonNode json = JsonMapper.shared().readTree(text);
            JsonNode conventions = json.has("conventions") ? json.get("conventions") : json;
            int influences = json.path("influences").asInt(USUAL_INFLUENCES);
            int joints = json.path("joints").asInt(NO_LIMIT);
            int triangles = json.path("triangles").asInt(NO_LIMIT);
            if (influences < 1 || influences > 255 || joints < 1 || triangles < 1) {
                return Optional.empty();
            }
            return ConventionsJson.read(conventions)
                    .map(c -> new Target(json.path("name").asString(c.code()), c, influences, joints, triangles));
        } catch (JacksonException e) {
            return Optional.empty();
        }
    }
}
