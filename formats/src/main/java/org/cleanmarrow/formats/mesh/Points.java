package org.cleanmarrow.formats.mesh;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Primitive;
import org.jspecify.annotations.Nullable;

/**
 * The positions of a mesh for formats that keep them apart from texture coordinates and normals: vertices that a file
 * once had as one position are one again where they still agree, in the order of that file. Every other vertex is a
 * position of its own.
 */
public final class Points {
    private final int[][] numbers;
    private final List<Place> places = new ArrayList<>();

    /** The vertex that stands for a position. */
    public record Place(Primitive primitive, int vertex) {}

    private record Numbered(int point, int primitive, int vertex) {}

    /** @param weights true where influences and shapes are written by position too, and must agree as well */
    public Points(Mesh mesh, boolean weights) {
        List<Primitive> primitives = mesh.primitives();
        numbers = new int[primitives.size()][];
        List<Numbered> ordered = new ArrayList<>();
        for (int p = 0; p < numbers.length; p++) {
            Primitive primitive = primitives.get(p);
            numbers[p] = new int[primitive.vertexCount()];
            Faces faces = primitive.layout().faces();
            for (int v = 0; v < numbers[p].length; v++) {
                if (faces == null || faces.points() == null) {
                    numbers[p][v] = places.size();
                    places.add(new Place(primitive, v));
                } else {
                    ordered.add(new Numbered(faces.points()[v], p, v));
                }
            }
        }
        ordered.sort(Comparator.comparingInt(Numbered::point));
        Numbered before = null;
        for (Numbered next : ordered) {
            boolean same = before != null
                    && before.point == next.point
                    && agree(
                            primitives.get(before.primitive),
                            before.vertex,
                            primitives.get(next.primitive),
                            next.vertex,
                            weights);
            if (!same) {
                places.add(new Place(primitives.get(next.primitive), next.vertex));
                before = next;
            }
            numbers[next.primitive][next.vertex] = places.size() - 1;
        }
    }

    private static boolean agree(Primitive a, int v, Primitive b, int w, boolean weights) {
        if (!same(a.positions(), v, b.positions(), w)) {
            return false;
        }
        if (!weights) {
            return true;
        }
        boolean rows = a.influences() == null
                ? b.influences() == null
                : b.influences() != null
                        && java.util.Arrays.equals(row(a, v, true), row(b, w, true))
                        && java.util.Arrays.equals(row(a, v, false), row(b, w, false));
        for (int t = 0; rows && t < a.targets().size(); t++) {
            MorphTarget one = a.targets().get(t);
            rows = t < b.targets().size()
                    && (one.positions() == null
                            || same(one.positions(), v, b.targets().get(t).positions(), w));
        }
        return rows;
    }

    private static float[] row(Primitive p, int v, boolean joints) {
        int from = Objects.requireNonNull(p.influences()).offsets()[v];
        float[] out = new float[p.influences().rowLength(v)];
        for (int i = 0; i < out.length; i++) {
            out[i] = joints ? p.influences().joints()[from + i] : p.influences().weights()[from + i];
        }
        return out;
    }

    private static boolean same(float[] a, int v, float @Nullable [] b, int w) {
        return b != null && java.util.Arrays.equals(a, v * 3, v * 3 + 3, b, w * 3, w * 3 + 3);
    }

    /** Number of the position of every vertex of a primitive, from 0. */
    public int[] of(int primitive) {
        return numbers[primitive];
    }

    public List<Place> places() {
        return places;
    }
}
