package org.cleanmarrow.model;

import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Single values within the {@code extras} (glTF 2.0, 3.2) of what is carried. */
public final class Extras {
    private Extras() {}

    /** The value of a key; missing where there is none, or where what is carried cannot be read. */
    public static JsonNode of(Passthrough carried, String key) {
        return carried.read().path("extras").path(key);
    }

    /** The same with a key's value changed, or taken out where the value is null. */
    public static Passthrough with(Passthrough carried, String key, @Nullable JsonNode value) {
        ObjectNode json = carried.isEmpty()
                ? JsonMapper.shared().createObjectNode()
                : (ObjectNode) JsonMapper.shared().readTree(carried.json());
        ObjectNode extras =
                json.path("extras").isObject() ? (ObjectNode) json.path("extras") : json.putObject("extras");
        if (value == null) {
            extras.remove(key);
        } else {
            extras.set(key, value);
        }
        if (extras.isEmpty()) {
            json.remove("extras");
        }
        return json.isEmpty() ? Passthrough.NONE : new Passthrough(json.toString());
    }
}
