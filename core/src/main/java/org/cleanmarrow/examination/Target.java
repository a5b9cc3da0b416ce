package org.cleanmarrow.examination;

import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.json.ConventionsJson;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * What the receiving side expects.
 *
 * @param name       as the user names it
 * @param influences joints a vertex at most
 * @param joints     joints at most
 */
public record Target(String name, Conventions conventions, int influences, int joints) {
    /** Influences a vertex that every receiving side takes (glTF 2.0, 3.7.3.3: one set of four must be supported). */
    public static final int USUAL_INFLUENCES = 4;

    /** More joints than a skeleton has; for targets that set no limit. */
    private static final int NO_LIMIT = Integer.MAX_VALUE;

    public static Target of(Conventions conventions) {
        return new Target(conventions.code(), conventions, USUAL_INFLUENCES, NO_LIMIT);
    }

    /** A target by the name of its conventions, such as {@code z-up-cm-lh}. */
    public static Optional<Target> named(String name) {
        return Conventions.parse(name).map(c -> new Target(name, c, USUAL_INFLUENCES, NO_LIMIT));
    }

    /**
     * A target from JSON: {@code {"name", "conventions": name or object, "influences": 4, "joints": 120}}; the conventions may
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
            if (influences < 1 || influences > 255 || joints < 1) {
                return Optional.empty();
            }
            return ConventionsJson.read(conventions)
                    .map(c -> new Target(json.path("name").asString(c.code()), c, influences, joints));
        } catch (JacksonException e) {
            return Optional.empty();
        }
    }
}
