package org.cleanmarrow.formats.mesh;

import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;

/** What is left of an asset in a format that holds less: what reading the file again must give. */
public final class Held {
    private Held() {}

    /** Only attributes that the format holds. */
    public static Asset attributes(Asset asset, Predicate<Attribute> held) {
        boolean all = asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .allMatch(p -> p.attributes().stream().allMatch(held));
        return all
                ? asset
                : asset.withMeshes(asset.meshes().stream()
                        .map(m -> m.withPrimitives(m.primitives().stream()
                                .map(p -> p.withAttributes(
                                        p.attributes().stream().filter(held).toList()))
                                .toList()))
                        .toList());
    }

    /** Only so many materials, in that order; pieces of others have none. */
    public static Asset materials(Asset asset, Collection<Integer> held) {
        Map<Integer, Integer> number = new HashMap<>();
        held.forEach(m -> number.put(m, number.size()));
        return asset.withMaterials(
                        List.copyOf(held.stream().map(asset.materials()::get).toList()))
                .withMeshes(asset.meshes().stream()
                        .map(m -> m.withPrimitives(m.primitives().stream()
                                .map(p -> p.withMaterial(number.getOrDefault(p.material(), -1)))
                                .toList()))
                        .toList());
    }
}
