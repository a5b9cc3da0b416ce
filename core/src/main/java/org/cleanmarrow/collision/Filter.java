package org.cleanmarrow.collision;

import java.util.List;

/**
 * What a collider meets: {@code collisionFilters} of {@code KHR_physics_rigid_bodies}. Two meet unless one is in a system that
 * the other passes over.
 *
 * @param systems those that it belongs to
 * @param meets   those alone that it meets; empty: all
 * @param ignores those that it passes through
 */
public record Filter(List<String> systems, List<String> meets, List<String> ignores) {
    public static final Filter ALL = new Filter(List.of(), List.of(), List.of());

    public Filter {
        systems = List.copyOf(systems);
        meets = List.copyOf(meets);
        ignores = List.copyOf(ignores);
    }

    /** Whether either passes through the other. */
    public static boolean apart(Filter a, Filter b) {
        return a.passes(b) || b.passes(a);
    }

    private boolean passes(Filter other) {
        return other.systems.stream().anyMatch(ignores::contains)
                || !meets.isEmpty() && other.systems.stream().noneMatch(meets::contains);
    }
}
