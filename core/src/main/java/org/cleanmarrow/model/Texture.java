package org.cleanmarrow.model;

/**
 * A use of an image.
 *
 * @param image index, or -1
 */
public record Texture(String name, int image, Passthrough carried) implements Refers<Texture> {
    @Override
    public Texture renumbered(Renumbering numbers) {
        return new Texture(name, numbers.of(Renumbering.Kind.IMAGE, image), carried);
    }
}
