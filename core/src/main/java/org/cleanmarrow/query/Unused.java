package org.cleanmarrow.query;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Renumbering;
import org.cleanmarrow.model.Texture;
import tools.jackson.databind.JsonNode;

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

    private static boolean namesByNumber(Passthrough carried) {
        JsonNode json = carried.read();
        return json.findValue("index") != null || json.findValue("source") != null;
    }

    private static Asset materials(Asset asset) {
        // Variants name materials by number in a way of their own.
        boolean variants = asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .anyMatch(p -> p.carried().hasExtensions());
        if (variants) {
            return asset;
        }
        BitSet used = new BitSet();
        asset.meshes().stream()
                .flatMap(m -> m.primitives().stream())
                .filter(p -> p.material() >= 0)
                .forEach(p -> used.set(p.material()));
        return keeping(asset, Renumbering.Kind.MATERIAL, used, asset.materials().size());
    }

    /** Pictures go only where nothing is carried that could name them by number in a way of its own. */
    private static Asset pictures(Asset asset) {
        boolean named = asset.materials().stream().anyMatch(m -> namesByNumber(m.carried()));
        if (named || asset.carried().hasExtensions()) {
            return asset;
        }
        BitSet textures = new BitSet();
        asset.materials().forEach(m -> m.textures().forEach(u -> textures.set(u.texture())));
        Asset fewer = keeping(
                asset, Renumbering.Kind.TEXTURE, textures, asset.textures().size());
        BitSet images = new BitSet();
        for (Texture texture : fewer.textures()) {
            if (texture.image() >= 0) {
                images.set(texture.image());
            }
            texture.others().values().forEach(images::set);
        }
        return keeping(fewer, Renumbering.Kind.IMAGE, images, fewer.images().size());
    }
}
