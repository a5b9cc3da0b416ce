package org.cleanmarrow.query;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.jspecify.annotations.Nullable;

/** Meshes, materials and pictures that are there twice with the same content, whatever they are called. */
public final class Duplicates {
    private Duplicates() {}

    /**
     * For each mesh the first of the same content: triangles, vertices, attributes, weights, morph targets and materials
     * alike to the last bit.
     */
    public static int[] ofMeshes(Asset asset) {
        List<List<Object>> keys = new ArrayList<>();
        for (Mesh mesh : asset.meshes()) {
            List<Object> key = new ArrayList<>();
            key.add(new Numbers(mesh.weights()));
            key.add(mesh.targetNames());
            for (Primitive p : mesh.primitives()) {
                key.addAll(Arrays.asList(
                        p.mode(), new Numbers(p.indices()), new Numbers(p.positions()), new Numbers(p.normals())));
                key.addAll(Arrays.asList(new Numbers(p.tangents()), p.material(), p.carried()));
                p.attributes().forEach(a -> key.addAll(List.of(a.name(), a.width(), new Numbers(a.values()))));
                p.targets()
                        .forEach(t -> key.addAll(Arrays.asList(new Numbers(t.positions()), new Numbers(t.normals()))));
                if (p.influences() != null) {
                    key.add(new Numbers(p.influences().offsets()));
                    key.add(new Numbers(p.influences().joints()));
                    key.add(new Numbers(p.influences().weights()));
                }
            }
            keys.add(key);
        }
        return first(keys);
    }

    /** For each material the first that says the same under any name. */
    public static int[] ofMaterials(Asset asset) {
        return first(asset.materials().stream()
                .map(m -> List.<Object>of(new Numbers(m.baseColour()), m.textures(), m.doubleSided(), m.carried()))
                .toList());
    }

    private static int[] first(List<List<Object>> keys) {
        Map<List<Object>, Integer> known = new HashMap<>();
        int[] out = new int[keys.size()];
        for (int i = 0; i < out.length; i++) {
            Integer there = known.putIfAbsent(keys.get(i), i);
            out[i] = there == null ? i : there;
        }
        return out;
    }

    /** Numbers that are the same where every one of them is. */
    private record Numbers(@Nullable Object array) {
        @Override
        public boolean equals(Object other) {
            return other instanceof Numbers n && Objects.deepEquals(array, n.array);
        }

        @Override
        public int hashCode() {
            return Arrays.deepHashCode(new Object[] {array});
        }
    }
}
