package org.cleanmarrow.weights;

import java.util.Arrays;
import java.util.BitSet;
import java.util.function.IntFunction;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.WeldedSurface;

/** The influences of a mesh by places of its welded surface: what lies on one place has one row. */
public final class WeldedWeights {
    private WeldedWeights() {}

    /** Rows by place; where vertices on a place differ their mean. Rows do not always sum to one. */
    public static Influences of(Mesh mesh, WeldedSurface surface) {
        int count = mesh.vertexCount();
        int[] starts = new int[surface.size() + 1];
        for (int v = 0; v < count; v++) {
            starts[surface.weldedOf(v) + 1]++;
        }
        for (int p = 0; p < surface.size(); p++) {
            starts[p + 1] += starts[p];
        }
        int[] byWelded = new int[count];
        int[] next = Arrays.copyOf(starts, surface.size());
        for (int v = 0; v < count; v++) {
            byWelded[next[surface.weldedOf(v)]++] = v;
        }
        IntFunction<Row> rows = rows(mesh);
        Influences.Builder out = new Influences.Builder(surface.size());
        Row sum = new Row();
        for (int p = 0; p < surface.size(); p++) {
            sum.clear();
            int vertices = starts[p + 1] - starts[p];
            for (int i = starts[p]; i < starts[p + 1]; i++) {
                sum.add(rows.apply(byWelded[i]), 1.0 / vertices);
            }
            sum.to(out);
        }
        return out.build();
    }

    /** Rows by vertex number through the primitives; the row given is the same object each time. */
    public static IntFunction<Row> rows(Mesh mesh) {
        Primitive[] of = mesh.primitives().toArray(Primitive[]::new);
        int[] firsts = new int[of.length + 1];
        for (int i = 0; i < of.length; i++) {
            firsts[i + 1] = firsts[i] + of[i].vertexCount();
        }
        Row row = new Row();
        return v -> {
            int i = Arrays.binarySearch(firsts, v);
            i = i >= 0 ? i : -i - 2;
            while (i + 1 < of.length && firsts[i + 1] <= v) {
                i++;
            }
            row.clear();
            if (of[i].influences() != null) {
                row.load(of[i].influences(), v - firsts[i]);
            }
            return row;
        };
    }

    /** The places of vertices. */
    public static BitSet places(BitSet vertices, WeldedSurface surface) {
        BitSet out = new BitSet(surface.size());
        vertices.stream().forEach(v -> out.set(surface.weldedOf(v)));
        return out;
    }
}
