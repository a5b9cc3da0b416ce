package org.cleanmarrow.model;

/**
 * How a primitive is painted. Only what the desk itself shows is modelled; the rest is carried.
 *
 * @param baseColour  linear red, green, blue, alpha
 * @param texture     index of the base colour texture, or -1
 * @param doubleSided back faces are drawn too
 */
public record Material(String name, float[] baseColour, int texture, boolean doubleSided, Passthrough carried)
        implements Refers<Material> {
    @Override
    public Material renumbered(Renumbering numbers) {
        return new Material(name, baseColour, numbers.of(Renumbering.Kind.TEXTURE, texture), doubleSided, carried);
    }

    public Material withName(String newName) {
        return new Material(newName, baseColour, texture, doubleSided, carried);
    }
}
