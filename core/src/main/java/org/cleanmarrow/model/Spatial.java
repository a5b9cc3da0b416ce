package org.cleanmarrow.model;

import org.joml.Matrix4d;

/**
 * What has places, directions or sizes.
 *
 * @param <T> the kind itself
 */
public interface Spatial<T> {
    /**
     * The same as seen from other axes, origin or unit: every point p of it becomes {@code by} p.
     *
     * @param by affine and not flat; may mirror and scale unevenly
     * @throws Sheared where it has no form that it could take then
     */
    T moved(Matrix4d by);
}
