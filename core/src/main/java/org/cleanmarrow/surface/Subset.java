package org.cleanmarrow.surface;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.jspecify.annotations.Nullable;

/** Parts of primitives: some of their vertices with the triangles between them. */
public final class Subset {
    private Subset() {}

    /**
     * A primitive of some triangles of another, with the vertices that they use and no others, in their order.
     *
     * @param corners three vertex numbers a triangle
     */
    public static Primitive ofTriangles(Primitive p, int[] corners) {
        int[] kept = used(corners);
        int[] number = new int[p.vertexCount()];
        for (int v = 0; v < kept.length; v++) {
            number[kept[v]] = v;
        }
        int[] indices = new int[corners.length];
        for (int i = 0; i < corners.length; i++) {
            indices[i] = number[corners[i]];
        }
        return ofVertices(p, kept, indices);
    }

    /** The vertices that triangles use, rising: what {@link #ofTriangles} keeps. */
    public static int[] used(int[] corners) {
        BitSet used = new BitSet();
        for (int corner : corners) {
            used.set(corner);
        }
        return used.stream().toArray();
    }

    /** A primitive of some vertices of another, with new triangles between them. */
    public static Primitive ofVertices(Primitive p, int[] kept, int[] indices) {
        List<Attribute> attributes = p.attributes().stream()
                .map(a -> new Attribute(a.name(), a.width(), gathered(a.values(), kept, a.width()), a.storage()))
                .toList();
        List<MorphTarget> targets = p.targets().stream()
                .map(t -> new MorphTarget(
                        gatheredIfAny(t.positions(), kept, 3),
                        gatheredIfAny(t.normals(), kept, 3),
                        gatheredIfAny(t.tangents(), kept, 3),
                        t.attributes().stream()
                                .map(a -> new Attribute(
                                        a.name(), a.width(), gathered(a.values(), kept, a.width()), a.storage()))
                                .toList()))
                .toList();
        Influences influences = null;
        if (p.influences() != null) {
            Influences.Builder rows = new Influences.Builder(kept.length);
            for (int v : kept) {
                rows.copyRows(p.influences(), v, v + 1);
            }
            influences = rows.build();
        }
        Primitive.Layout layout = new Primitive.Layout(
                null, p.layout().joints(), p.layout().weights(), p.layout().sets(), null);
        return new Primitive(
                Primitive.Mode.TRIANGLES,
                indices,
                gathered(p.positions(), kept, 3),
                gatheredIfAny(p.normals(), kept, 3),
                gatheredIfAny(p.tangents(), kept, 4),
                attributes,
                influences,
                targets,
                p.material(),
                layout,
                p.carried());
    }

    private static float @Nullable [] gatheredIfAny(float @Nullable [] values, int[] kept, int width) {
        return values == null ? null : gathered(values, kept, width);
    }

    private static float[] gathered(float[] values, int[] kept, int width) {
        float[] out = new float[kept.length * width];
        for (int v = 0; v < kept.length; v++) {
            System.arraycopy(values, kept[v] * width, out, v * width, width);
        }
        return out;
    }
}
