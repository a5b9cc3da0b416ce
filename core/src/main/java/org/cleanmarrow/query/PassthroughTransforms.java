package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Skin;
import tools.jackson.databind.JsonNode;

/**
 * What is carried word for word and looks as if it held places, turns or lengths: extras and extensions that this model
 * does not understand. A change of unit or axes passes them by, so they are named.
 */
public final class PassthroughTransforms {
    private static final Set<String> WORDS = Set.of(
            "matrix",
            "translation",
            "rotation",
            "scale",
            "position",
            "offset",
            "transform",
            "center",
            "centre",
            "pivot",
            "axis",
            "extent",
            "extents",
            "radius",
            "height",
            "size",
            "min",
            "max",
            "direction",
            "gravity",
            "normal");
    /** Extensions whose numbers are none of these (light has no size of its own here, materials have no place). */
    private static final String[] PLAIN = {"KHR_materials_", "KHR_texture_", "KHR_lights_punctual", "KHR_xmp"};

    private PassthroughTransforms() {}

    /** Names of the things that carry such numbers, with the words they stand under, as in {@code lantern (pivot)}. */
    public static List<String> in(Asset asset) {
        List<String> out = new ArrayList<>();
        String[] refs = asset.nodeRefs();
        for (int n = 0; n < refs.length; n++) {
            add(asset.nodes().get(n).carried(), refs[n], out);
        }
        for (int m = 0; m < asset.meshes().size(); m++) {
            add(asset.meshes().get(m).carried(), asset.meshRef(m), out);
        }
        for (Skin skin : asset.skins()) {
            add(skin.carried(), skin.name(), out);
        }
        for (Clip clip : asset.clips()) {
            add(clip.carried(), clip.name(), out);
        }
        add(asset.carried(), asset.name(), out);
        return out;
    }

    private static void add(Passthrough carried, String name, List<String> out) {
        JsonNode json = carried.read();
        String word = find(json.path("extras"));
        for (var extension : json.path("extensions").properties()) {
            boolean plain = false;
            for (String known : PLAIN) {
                plain |= extension.getKey().startsWith(known);
            }
            word = word.isEmpty() && !plain ? find(extension.getValue()) : word;
        }
        if (!word.isEmpty()) {
            out.add(name + " (" + word + ")");
        }
    }

    private static String find(JsonNode json) {
        for (var entry : json.properties()) {
            String key = entry.getKey().toLowerCase(Locale.ROOT);
            boolean word = WORDS.contains(key);
            JsonNode value = entry.getValue();
            boolean numbers = value.isNumber()
                    || value.isArray() && !value.isEmpty() && value.get(0).isNumber();
            if (word && numbers) {
                return entry.getKey();
            }
            String below = find(value);
            if (!below.isEmpty()) {
                return below;
            }
        }
        if (json.isArray()) {
            for (JsonNode one : json) {
                String below = find(one);
                if (!below.isEmpty()) {
                    return below;
                }
            }
        }
        return "";
    }
}
