package org.cleanmarrow.asset;

/**
 * A use of an image.
 *
 * @param image index, or -1
 */
public record Texture(String name, int image, Carried carried) {}
