package org.cleanmarrow.asset;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Takes out meshes, materials and pictures that nothing uses, and renumbers what refers to the others. */
public final class Unused {
    private Unused() {}

    /** The asset without what no node uses, directly or through a mesh or material. */
    public static Asset removed(Asset asset) {
        return pictures(materials(meshes(asset)));
    }

    /** Numbers of those that stay, -1 for the others. */
    private static int[] numbers(BitSet used, int count) {
        int[] out = new int[count];
        int next = 0;
        for (int i = 0; i < count; i++) {
            out[i] = used.get(i) ? next++ : -1;
        }
        return out;
    }

    private static <T> List<T> kept(List<T> all, BitSet used) {
        List<T> out = new ArrayList<>();
        for (int i = 0; i < all.size(); i++) {
            if (used.get(i)) {
                out.add(all.get(i));
            }
        }
        return out;
    }

    private static Asset meshes(Asset asset) {
        BitSet used = new BitSet();
        asset.nodes().stream().filter(n -> n.mesh() >= 0).forEach(n -> used.set(n.mesh()));
        if (used.cardinality() == asset.meshes().size()) {
            return asset;
        }
        int[] number = numbers(used, asset.meshes().size());
        return asset.withMeshes(kept(asset.meshes(), used))
                .withNodes(asset.nodes().stream()
                        .map(n -> n.mesh() < 0 ? n : n.withMesh(number[n.mesh()], n.skin()))
                        .toList());
    }

    static Asset keepSkins(Asset asset, BitSet used) {
        if (used.cardinality() == asset.skins().size()) {
            return asset;
        }
        int[] number = numbers(used, asset.skins().size());
        return asset.withSkins(kept(asset.skins(), used))
                .withNodes(asset.nodes().stream()
                        .map(n -> n.skin() < 0 ? n : n.withMesh(n.mesh(), number[n.skin()]))
                        .toList());
    }

    private static Asset materials(Asset asset) {
        BitSet used = new BitSet();
        asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .filter(p -> p.material() >= 0)
                .forEach(p -> used.set(p.material()));
        if (used.cardinality() == asset.materials().size()) {
            return asset;
        }
        int[] number = numbers(used, asset.materials().size());
        return asset.withMaterials(kept(asset.materials(), used))
                .withMeshes(asset.meshes().stream()
                        .map(m -> m.withPrimitives(m.primitives().stream()
                                .map(p -> p.material() < 0 ? p : p.withMaterial(number[p.material()]))
                                .toList()))
                        .toList());
    }

    /** Pictures go only where no material carries anything that could name them by number. */
    private static Asset pictures(Asset asset) {
        boolean carried = asset.materials().stream().anyMatch(m -> !m.carried().isEmpty());
        if (carried || !asset.carried().isEmpty()) {
            return asset;
        }
        BitSet textures = new BitSet();
        asset.materials().stream().filter(m -> m.texture() >= 0).forEach(m -> textures.set(m.texture()));
        int[] number = numbers(textures, asset.textures().size());
        BitSet images = new BitSet();
        List<Texture> kept = kept(asset.textures(), textures);
        kept.stream().filter(t -> t.image() >= 0).forEach(t -> images.set(t.image()));
        int[] image = numbers(images, asset.images().size());
        return asset.withPictures(
                asset.materials().stream()
                        .map(m -> m.texture() < 0
                                ? m
                                : new Material(
                                        m.name(), m.baseColour(), number[m.texture()], m.doubleSided(), m.carried()))
                        .toList(),
                kept.stream()
                        .map(t -> t.image() < 0 ? t : new Texture(t.name(), image[t.image()], t.carried()))
                        .toList(),
                kept(asset.images(), images));
    }
}
