package org.cleanmarrow.model;

/**
 * A thing of any further kind that stands at a node, in its axes: it follows the node, goes where the node goes, and is
 * carried along by steps that know nothing of its kind.
 *
 * <p>Immutable. What it refers to it renumbers, what has a place in the node's axes it moves; {@link Asset#renumbered} and
 * the steps ask for both. The node itself stays while something is attached to it.
 */
public interface Attached extends Refers<Attached>, Spatial<Attached> {
    /** Not empty; may be there twice. */
    String name();

    /** Number of the node, never below zero. */
    int node();

    Attached withNode(int changed);

    /** Points in the node's axes, 3 numbers each, that move as it does: by them the proof tells whether it moved. */
    float[] points();

    /** Whether each of its points is one by itself; false where they only tell a form that is the same in another order. */
    default boolean pointsInOrder() {
        return true;
    }
}
