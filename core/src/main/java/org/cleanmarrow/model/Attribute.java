package org.cleanmarrow.model;

/**
 * A further vertex attribute: texture coordinates, colours, or one of the file's own.
 *
 * @param name    as in glTF, such as {@code TEXCOORD_0} or {@code _WIND}
 * @param width   numbers a vertex, 1 to 4
 * @param values  width x vertex count
 * @param storage how the file held it, so that it is written back the same
 */
public record Attribute(String name, int width, float[] values, Storage storage) {}
