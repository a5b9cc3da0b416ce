package org.cleanmarrow.model;

import java.util.Set;

/**
 * What a material shows of a texture, and as what.
 *
 * @param slot    where a glTF material names it, its members divided by slashes: {@code normalTexture}, {@code
 *                pbrMetallicRoughness/baseColorTexture}, {@code extensions/KHR_materials_sheen/sheenColorTexture}
 * @param texture index
 * @param carried what else is said of the use: its set of coordinates, its scale, its transform
 */
public record TextureUse(String slot, int texture, Passthrough carried) implements Refers<TextureUse> {
    public static final String BASE_COLOUR = "pbrMetallicRoughness/baseColorTexture";
    public static final String NORMAL = "normalTexture";
    /** A mask, white where nobody sees the material: glTF knows none, so it is among what a material says beside. */
    public static final String COVER = "extras/coverTexture";

    /** Slots whose pictures are colours in sRGB: glTF 2.0, 3.9.2 and 5.19, and the extensions that Khronos has ratified. */
    private static final Set<String> COLOURS = Set.of(
            BASE_COLOUR,
            "emissiveTexture",
            "extensions/KHR_materials_specular/specularColorTexture",
            "extensions/KHR_materials_sheen/sheenColorTexture",
            "extensions/KHR_materials_diffuse_transmission/diffuseTransmissionColorTexture",
            "extensions/KHR_materials_pbrSpecularGlossiness/diffuseTexture",
            "extensions/KHR_materials_pbrSpecularGlossiness/specularGlossinessTexture");

    /** True where the picture is a colour to look at; false where its numbers are data, as those of normals are. */
    public boolean isColour() {
        return COLOURS.contains(slot);
    }

    /** True where the picture holds directions. */
    public boolean isNormal() {
        return slot.endsWith(NORMAL) || slot.endsWith("NormalTexture");
    }

    @Override
    public TextureUse renumbered(Renumbering numbers) {
        return new TextureUse(slot, numbers.of(Renumbering.Kind.TEXTURE, texture), carried);
    }
}
