package org.cleanmarrow.cloth;

/**
 * What a cloth is like. Lengths are metres of the world, whatever the asset's unit.
 *
 * @param reach     metres: how far a vertex whose stray is s may go from where its skin has it is s times this
 * @param thickness metres that it keeps from what it bumps into, and from itself
 * @param stretch   how much an edge gives, metres a newton for a cloth of one kilogram; 0: not at all
 * @param bend      the same across an edge
 * @param damping   what slows it, a second
 * @param friction  of its surface, 0 or more
 * @param gravity   how much of gravity acts on it, usually 1
 * @param substeps  a frame, 1 or more; more stretch less
 * @param itself    whether it bumps into itself
 */
public record Fabric(
        double reach,
        double thickness,
        double stretch,
        double bend,
        double damping,
        double friction,
        double gravity,
        int substeps,
        boolean itself) {
    public static final int MOST_SUBSTEPS = 200;

    /** What holds where nothing is said. */
    public static final Fabric PLAIN = new Fabric(0.5, 0.005, 0, 1e-3, 0.5, 0.4, 1, 64, false);

    /** Whether every number lies in its range. */
    public boolean sound() {
        return reach >= 0
                && reach <= 1e6
                && thickness >= 0
                && thickness <= 1e3
                && stretch >= 0
                && bend >= 0
                && damping >= 0
                && damping <= 1e3
                && friction >= 0
                && friction <= 1e3
                && Math.abs(gravity) <= 1e3
                && substeps >= 1
                && substeps <= MOST_SUBSTEPS
                && Double.isFinite(stretch + bend);
    }
}
