package org.cleanmarrow.model;

import java.util.List;

/**
 * How a primitive is painted. Only what the desk itself shows or changes is modelled; the rest is carried.
 *
 * @param baseColour  linear red, green, blue, alpha
 * @param textures    each slot once
 * @param doubleSided back faces are drawn too
 */
public record Material(
        String name, float[] baseColour, List<TextureUse> textures, boolean doubleSided, Passthrough carried)
        implements Refers<Material> {

    public Material {
        textures = List.copyOf(textures);
    }

    /** @param texture index of the base colour's texture, the only one; -1 for none */
    public Material(String name, float[] baseColour, int texture, boolean doubleSided, Passthrough carried) {
        this(
                name,
                baseColour,
                texture < 0 ? List.of() : List.of(new TextureUse(TextureUse.BASE_COLOUR, texture, Passthrough.NONE)),
                doubleSided,
                carried);
    }

    /** Index of the base colour's texture, or -1. */
    public int texture() {
        return textures.stream()
                .filter(u -> u.slot().equals(TextureUse.BASE_COLOUR))
                .mapToInt(TextureUse::texture)
                .findFirst()
                .orElse(-1);
    }

    /** Uses of textures that go are let go of. */
    @Override
    public Material renumbered(Renumbering numbers) {
        List<TextureUse> stay = textures.stream()
                .map(u -> u.renumbered(numbers))
                .filter(u -> u.texture() >= 0)
                .toList();
        return new Material(name, baseColour, stay, doubleSided, carried);
    }

    public Material withTextures(List<TextureUse> uses) {
        return new Material(name, baseColour, uses, doubleSided, carried);
    }

    public Material withName(String newName) {
        return new Material(newName, baseColour, textures, doubleSided, carried);
    }
}
