package org.cleanmarrow.query;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Renumbering;

/** Takes out meshes, materials and pictures that nothing uses. */
public final class Unused {
    private Unused() {}

    /** The asset without what no node uses, directly or through a mesh or material. */
    public static Asset removed(Asset asset) {
        return pictures(materials(meshes(asset)));
    }

    private static Asset keeping(Asset asset, Renumbering.Kind kind, BitSet used, int count) {
        return used.cardinality() == count ? asset : asset.renumbered(Renumbering.NONE.keeping(kind, used, count));
    }

    private static Asset meshes(Asset asset) {
        BitSet used = new BitSet();
        asset.nodes().stream().filter(n -> n.mesh() >= 0).forEach(n -> used.set(n.mesh()));
        return keeping(asset, Renumbering.Kind.MESH, used, asset.meshes().size());
    }

    static Asset keepSkins(Asset asset, BitSet used) {
        return keeping(asset, Renumbering.Kind.SKIN, used, asset.skins().size());
    }

    private static Asset materials(Asset asset) {
        BitSet used = new BitSet();
        asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .filter(p -> p.material() >= 0)
                .forEach(p -> used.set(p.material()));
        return keeping(asset, Renumbering.Kind.MATERIAL, used, asset.materials().size());
    }

    /** Pictures go only where no material carries anything that could name them by number. */
    private static Asset pictures(Asset asset) {
        boolean carried = asset.materials().stream().anyMatch(m -> !m.carried().isEmpty());
        if (carried || !asset.carried().isEmpty()) {
            return asset;
        }
        BitSet textures = new BitSet();
        asset.materials().stream().filter(m -> m.texture() >= 0).forEach(m -> textures.set(m.texture()));
        Asset fewer = keeping(
                asset, Renumbering.Kind.TEXTURE, textures, asset.textures().size());
        BitSet images = new BitSet();
        fewer.textures().stream().filter(t -> t.image() >= 0).forEach(t -> images.set(t.image()));
        return keeping(fewer, Renumbering.Kind.IMAGE, images, fewer.images().size());
    }
}
