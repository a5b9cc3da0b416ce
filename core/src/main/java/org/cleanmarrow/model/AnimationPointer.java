package org.cleanmarrow.model;

import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Where a channel points that animates a property by its place in the file (glTF extension KHR_animation_pointer). The
 * property is carried, not understood; the number of what it belongs to is kept right.
 *
 * @param carried of the channel
 * @param pointer such as {@code /nodes/7/extensions/KHR_node_visibility/visible}; empty where it points at nothing
 */
record AnimationPointer(Passthrough carried, String pointer) {
    private static final String EXTENSION = "KHR_animation_pointer";
    private static final Pattern NUMBERED = Pattern.compile("/(\\w+)/(\\d{1,9})(/.*)");
    private static final Map<String, Renumbering.Kind> KINDS = Map.of(
            "nodes", Renumbering.Kind.NODE,
            "meshes", Renumbering.Kind.MESH,
            "materials", Renumbering.Kind.MATERIAL,
            "cameras", Renumbering.Kind.CAMERA);

    static AnimationPointer of(Passthrough carried) {
        JsonNode target = carried.read().path("target");
        return new AnimationPointer(
                carried,
                target.path("extensions").path(EXTENSION).path("pointer").asString(""));
    }

    /** The same on other numbers; null where what it belongs to goes. */
    @Nullable
    Passthrough renumbered(Renumbering numbers) {
        Matcher m = NUMBERED.matcher(pointer);
        Renumbering.Kind kind = m.matches() ? KINDS.get(m.group(1)) : null;
        if (kind == null) {
            return carried;
        }
        int was = Integer.parseInt(m.group(2));
        int now = numbers.of(kind, was);
        if (now < 0 || now == was) {
            return now < 0 ? null : carried;
        }
        ObjectNode json = (ObjectNode) carried.read();
        ((ObjectNode) json.path("target").path("extensions").path(EXTENSION))
                .put("pointer", "/" + m.group(1) + "/" + now + m.group(3));
        return new Passthrough(JsonMapper.shared().writeValueAsString(json));
    }
}
