package org.cleanmarrow.model;

import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Which materials a primitive takes in variants of the whole (glTF extension KHR_materials_variants). The variants are
 * carried, not understood; the numbers of the materials are kept right.
 */
final class MaterialVariants {
    private static final String EXTENSION = "KHR_materials_variants";

    private MaterialVariants() {}

    /** What a primitive carries, on other numbers of materials; a mapping to one that goes, goes with it. */
    static Passthrough renumbered(Passthrough carried, Renumbering numbers) {
        if (!carried.extension(EXTENSION).path("mappings").isArray()) {
            return carried;
        }
        ObjectNode json = (ObjectNode) carried.read();
        ArrayNode mappings = (ArrayNode) json.path("extensions").path(EXTENSION).path("mappings");
        boolean changed = false;
        for (int i = mappings.size() - 1; i >= 0; i--) {
            JsonNode material = mappings.get(i).path("material");
            int was = material.asInt(-1);
            int now = was < 0 ? was : numbers.of(Renumbering.Kind.MATERIAL, was);
            if (now == was) {
                continue;
            }
            changed = true;
            if (now < 0) {
                mappings.remove(i);
            } else {
                ((ObjectNode) mappings.get(i)).put("material", now);
            }
        }
        if (mappings.isEmpty()) {
            ((ObjectNode) json.path("extensions")).remove(EXTENSION);
            if (json.path("extensions").isEmpty()) {
                json.remove("extensions");
            }
        }
        return !changed
                ? carried
                : json.isEmpty()
                        ? Passthrough.NONE
                        : new Passthrough(JsonMapper.shared().writeValueAsString(json));
    }
}
