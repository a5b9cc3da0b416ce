package org.cleanmarrow.query;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;

/**
 * What the parts that are exported are painted with.
 *
 * @param materials numbers of materials
 * @param images    numbers of pictures that these show
 */
public record Painted(BitSet materials, BitSet images) {

    public static Painted of(Asset asset) {
        BitSet materials = new BitSet();
        for (Node node : asset.nodes()) {
            if (node.ships() && node.mesh() >= 0) {
                for (Primitive primitive : asset.meshes().get(node.mesh()).primitives()) {
                    if (primitive.material() >= 0) {
                        materials.set(primitive.material());
                    }
                }
            }
        }
        BitSet images = new BitSet();
        for (int m = materials.nextSetBit(0); m >= 0; m = materials.nextSetBit(m + 1)) {
            for (TextureUse use : asset.materials().get(m).textures()) {
                images.or(images(asset.textures().get(use.texture())));
            }
        }
        return new Painted(materials, images);
    }

    private static BitSet images(Texture texture) {
        BitSet out = new BitSet();
        if (texture.image() >= 0) {
            out.set(texture.image());
        }
        texture.others().values().forEach(out::set);
        return out;
    }

    /** All uses of a picture, by whichever material. */
    public static List<TextureUse> uses(Asset asset, int image) {
        return asset.materials().stream()
                .map(Material::textures)
                .flatMap(List::stream)
                .filter(u -> images(asset.textures().get(u.texture())).get(image))
                .toList();
    }

    /** What to call a picture: its name, its file's, or its number. */
    public static String name(Asset asset, int image) {
        String name = asset.images().get(image).name();
        String uri = asset.images().get(image).uri();
        return !name.isEmpty() ? name : !uri.isEmpty() ? uri : "#" + image;
    }
}
