package org.cleanmarrow.collision;

/**
 * How a collider rubs and bounces: {@code physicsMaterials} of {@code KHR_physics_rigid_bodies}.
 *
 * @param staticFriction  0 or more
 * @param dynamicFriction 0 or more
 * @param restitution     0 (none) to 1 (bounces back as fast as it came)
 * @param frictions       what holds of two that touch: average, minimum, maximum or multiply
 * @param restitutions    the same
 */
public record Surface(
        double staticFriction, double dynamicFriction, double restitution, String frictions, String restitutions) {
    /** What holds where a file says nothing. */
    public static final Surface PLAIN = new Surface(0.6, 0.6, 0, "average", "average");
}
