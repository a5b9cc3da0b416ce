package org.cleanmarrow.weights;

import java.util.BitSet;
import java.util.Objects;
import java.util.function.Supplier;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.surface.WeldedSurface;
import org.jspecify.annotations.Nullable;

/** What a stroke of a brush does to the weights of a mesh: one function of what the brush left on each vertex. */
public final class Stroke {
    /** What the brush does. */
    public enum Mode {
        /** Adds to the joint's weight. */
        ADD,
        /** Takes from the joint's weight. */
        TAKE,
        /** Goes towards a weight. */
        SET,
        /** Evens all weights out along the surface. */
        SMOOTH,
        /** Makes the heaviest joint of each vertex heavier. */
        SHARPEN
    }

    private static final int SMOOTHING_ROUNDS = 2;

    private final Mode mode;
    private final int joint;
    private final double goal;
    private final BitSet locked;
    private final float[] amounts;
    private final WeldedSurface surface;
    private final @Nullable Influences smooth;

    /**
     * @param joint   for the first three modes; not locked
     * @param goal    weight that {@link Mode#SET} goes towards
     * @param rows    {@link WeldedWeights#of} of the mesh; read by {@link Mode#SMOOTH} alone
     * @param amounts one a vertex of the mesh, 0 to 1
     */
    public Stroke(
            Mode mode,
            WeldedSurface surface,
            Supplier<Influences> rows,
            int joint,
            double goal,
            BitSet locked,
            float[] amounts) {
        this.mode = mode;
        this.joint = joint;
        this.goal = goal;
        this.locked = locked;
        this.amounts = amounts;
        this.surface = surface;
        smooth = mode == Mode.SMOOTH ? smoothed(rows.get()) : null;
    }

    private Influences smoothed(Influences rows) {
        float[] byWelded = new float[surface.size()];
        BitSet touched = new BitSet();
        for (int v = 0; v < amounts.length; v++) {
            int p = surface.weldedOf(v);
            byWelded[p] = Math.max(byWelded[p], amounts[v]);
            if (amounts[v] > 0) {
                touched.set(p);
            }
        }
        return Smoothing.run(surface, rows, touched, p -> byWelded[p], SMOOTHING_ROUNDS, locked);
    }

    /** Changes the row of a vertex; false where it stays as it is. */
    public boolean touch(Row row, int vertex) {
        double amount = amounts[vertex];
        if (!(amount > 0)) {
            return false;
        }
        return switch (mode) {
            case ADD -> row.set(joint, row.of(joint) + amount, locked);
            case TAKE -> row.of(joint) > 0 && row.set(joint, row.of(joint) - amount, locked);
            case SET -> row.set(joint, row.of(joint) + (goal - row.of(joint)) * amount, locked);
            case SMOOTH -> {
                row.clear();
                row.load(Objects.requireNonNull(smooth), surface.weldedOf(vertex));
                yield row.size() > 0;
            }
            case SHARPEN ->
                row.size() > 1
                        && row.set(
                                row.joint(row.largest()),
                                row.weight(row.largest()) + (1 - row.weight(row.largest())) * amount,
                                locked);
        };
    }
}
