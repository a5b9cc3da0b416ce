package org.cleanmarrow.model;

/**
 * What holds numbers of nodes, meshes or other things that an {@link Asset} lists. {@link Asset#renumbered} asks all of
 * them; nothing else follows references when things are taken out, reordered, shared or joined.
 *
 * @param <T> the kind itself
 */
public interface Refers<T> {
    /** The same under new numbers; what it refers to and is gone it lets go of. */
    T renumbered(Renumbering numbers);
}
