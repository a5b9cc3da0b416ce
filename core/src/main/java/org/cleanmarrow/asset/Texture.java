package org.cleanmarrow.asset;

/**
 * A use of an image.
 *
 * @param image index, or -1
 */
public record Texture(String name, int image, Carried carried) implements Refers<Texture> {
    @Override
    public Texture renumbered(Renumbering numbers) {
        return new Texture(name, numbers.of(Renumbering.Kind.IMAGE, image), carried);
    }
}
