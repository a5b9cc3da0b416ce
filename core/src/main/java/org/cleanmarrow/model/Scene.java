package org.cleanmarrow.model;

/**
 * A set of top nodes that are shown together.
 *
 * @param roots node indices
 */
public record Scene(String name, int[] roots, Passthrough carried) implements Refers<Scene> {
    @Override
    public Scene renumbered(Renumbering numbers) {
        return new Scene(name, numbers.of(Renumbering.Kind.NODE, roots), carried);
    }
}
