package org.cleanmarrow.work;

import java.util.Arrays;
import java.util.BitSet;
import org.cleanmarrow.model.Mesh;

/**
 * How much of something each of some vertices gets, such as what a brush left on them.
 *
 * @param vertices which
 * @param amounts  one a vertex, rising by number; 0 to 1
 */
public record VertexAmounts(VertexSet vertices, float[] amounts) {
    /** Amounts of all vertices of a mesh; those of zero are left out. */
    public static VertexAmounts of(Mesh mesh, float[] all) {
        BitSet some = new BitSet();
        float[] amounts = new float[all.length];
        int many = 0;
        for (int v = 0; v < all.length; v++) {
            if (all[v] > 0) {
                some.set(v);
                // As much as a ledger has to say.
                amounts[many++] = Math.round(Math.min(1, all[v]) * 1e4f) / 1e4f;
            }
        }
        return new VertexAmounts(VertexSet.chosen(mesh, some), Arrays.copyOf(amounts, many));
    }

    /** One a vertex of a mesh as it is now. */
    public float[] on(Mesh mesh) throws Refused {
        return vertices.spread(mesh, amounts);
    }
}
