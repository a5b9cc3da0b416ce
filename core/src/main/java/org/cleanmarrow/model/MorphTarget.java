package org.cleanmarrow.model;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * One shape that a primitive can be moved towards: differences to the base, never absolute values.
 *
 * @param positions  3 a vertex, or null
 * @param normals    3 a vertex, or null
 * @param tangents   3 a vertex, or null
 * @param attributes differences of texture coordinates and colours
 */
public record MorphTarget(
        float @Nullable [] positions,
        float @Nullable [] normals,
        float @Nullable [] tangents,
        List<Attribute> attributes) {}
