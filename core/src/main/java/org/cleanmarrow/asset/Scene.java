package org.cleanmarrow.asset;

/**
 * A set of top nodes that are shown together.
 *
 * @param roots node indices
 */
public record Scene(String name, int[] roots, Carried carried) {}
