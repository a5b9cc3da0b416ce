package org.cleanmarrow.model;

import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.MissingNode;

/**
 * What a file said beyond what the asset models, kept word for word so that it can be written back.
 *
 * @param json text of a JSON object, or empty when there was nothing
 */
public record Passthrough(String json) {
    public static final Passthrough NONE = new Passthrough("");

    public boolean isEmpty() {
        return json.isEmpty();
    }

    /** What it says; missing where there is nothing, or nothing that can be read. */
    public JsonNode read() {
        if (isEmpty()) {
            return MissingNode.getInstance();
        }
        try {
            return JsonMapper.shared().readTree(json);
        } catch (JacksonException e) {
            return MissingNode.getInstance();
        }
    }

    /** An extension by its name (glTF 2.0, 3.12); missing where there is none. */
    public JsonNode extension(String name) {
        return read().path("extensions").path(name);
    }

    /** Whether it holds an extension of any name. */
    public boolean hasExtensions() {
        return !read().path("extensions").isMissingNode();
    }
}
