package org.cleanmarrow.formats.usd;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** One layer of a scene: what is said of it as a whole, and its prims. */
final class UsdLayer {
    final Map<String, @Nullable Object> metadata = new LinkedHashMap<>();
    final List<UsdPrim> roots = new ArrayList<>();
    /** Composition that is not understood, such as {@code references at /boat}. */
    final List<String> arcs = new ArrayList<>();

    double number(String key, double otherwise) {
        return metadata.get(key) instanceof Double d && d > 0 && Double.isFinite(d) ? d : otherwise;
    }

    String word(String key, String otherwise) {
        return metadata.get(key) instanceof String s ? s : otherwise;
    }

    /** A text in the layer's own data. */
    String custom(String key, String otherwise) {
        return metadata.get("customLayerData") instanceof Map<?, ?> all && all.get(key) instanceof String s
                ? s
                : otherwise;
    }

    /** All prims by path, parents first. */
    Map<String, UsdPrim> byPath() {
        Map<String, UsdPrim> out = new LinkedHashMap<>();
        roots.forEach(r -> put(r, out));
        return out;
    }

    private static void put(UsdPrim prim, Map<String, UsdPrim> out) {
        out.put(prim.path, prim);
        prim.children.forEach(c -> put(c, out));
    }
}
