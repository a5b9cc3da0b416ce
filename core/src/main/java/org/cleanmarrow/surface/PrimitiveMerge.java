package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.VertexMap;
import org.jspecify.annotations.Nullable;

/** Puts primitives of one material together, vertex after vertex, triangle after triangle. */
public final class PrimitiveMerge {
    private PrimitiveMerge() {}

    /** What primitives must have in common to become one. */
    private record Kind(int material, boolean normals, boolean tangents, boolean influences, Passthrough carried) {}

    /** The same triangles in as few primitives as materials allow; lines, points and shapes that morph stay apart. */
    public static List<Primitive> byMaterial(List<Primitive> all) {
        return groups(all).stream()
                .map(g -> g.stream().map(all::get).toList())
                .map(g -> g.size() == 1 ? g.getFirst() : merged(g))
                .toList();
    }

    /** Where the vertices of primitives go that {@link #byMaterial} puts together. */
    public static VertexMap map(List<Primitive> all) {
        return map(all, groups(all).stream().flatMap(List::stream).toList());
    }

    /** Where vertices go when primitives are put in another order, by their numbers. */
    public static VertexMap map(List<Primitive> all, List<Integer> order) {
        int[] first = new int[all.size()];
        for (int p = 1; p < first.length; p++) {
            first[p] = first[p - 1] + all.get(p - 1).vertexCount();
        }
        return VertexMap.of(order.stream()
                .map(p -> new VertexMap.Piece(first[p], all.get(p).vertexCount(), null))
                .toList());
    }

    private static List<List<Integer>> groups(List<Primitive> all) {
        Map<Object, List<Integer>> groups = new LinkedHashMap<>();
        for (int i = 0; i < all.size(); i++) {
            Primitive p = all.get(i);
            boolean plain = p.triangleCorners().length > 0 && p.targets().isEmpty();
            Object key = plain
                    ? new Kind(
                            p.material(),
                            p.normals() != null,
                            p.tangents() != null,
                            p.influences() != null,
                            p.carried())
                    : new Object();
            groups.computeIfAbsent(key, k -> new ArrayList<>()).add(i);
        }
        return List.copyOf(groups.values());
    }

    private static Primitive merged(List<Primitive> group) {
        Primitive first = group.getFirst();
        int vertices = group.stream().mapToInt(Primitive::vertexCount).sum();
        int corners = group.stream().mapToInt(p -> p.triangleCorners().length).sum();
        float[] positions = new float[vertices * 3];
        float[] normals = first.normals() == null ? null : new float[vertices * 3];
        float[] tangents = first.tangents() == null ? null : new float[vertices * 4];
        int[] indices = new int[corners];
        int v = 0;
        int at = 0;
        for (Primitive p : group) {
            put(p.positions(), positions, v * 3);
            put(p.normals(), normals, v * 3);
            put(p.tangents(), tangents, v * 4);
            for (int corner : p.triangleCorners()) {
                indices[at++] = corner + v;
            }
            v += p.vertexCount();
        }
        return new Primitive(
                Primitive.Mode.TRIANGLES,
                indices,
                positions,
                normals,
                tangents,
                attributes(group, vertices),
                influences(group, vertices),
                List.of(),
                first.material(),
                Primitive.Layout.PLAIN.withFaces(faces(group)),
                first.carried());
    }

    private static void put(float @Nullable [] from, float @Nullable [] to, int at) {
        if (from != null && to != null) {
            System.arraycopy(from, 0, to, at, from.length);
        }
    }

    /** Every attribute that any of them has; where one lacks it, colours are white and the rest zero. */
    private static List<Attribute> attributes(List<Primitive> group, int vertices) {
        Map<String, Integer> widths = new LinkedHashMap<>();
        group.forEach(p -> p.attributes().forEach(a -> widths.merge(a.name(), a.width(), Math::max)));
        List<Attribute> out = new ArrayList<>();
        widths.forEach((name, width) -> {
            float[] values = new float[vertices * width];
            if (name.startsWith("COLOR_")) {
                Arrays.fill(values, 1);
            }
            int first = 0;
            for (Primitive p : group) {
                Attribute own = p.attribute(name).orElse(null);
                for (int v = 0; own != null && v < p.vertexCount(); v++) {
                    System.arraycopy(own.values(), v * own.width(), values, (first + v) * width, own.width());
                }
                first += p.vertexCount();
            }
            out.add(new Attribute(name, width, values, Storage.FLOAT));
        });
        return out;
    }

    private static @Nullable Influences influences(List<Primitive> group, int vertices) {
        if (group.getFirst().influences() == null) {
            return null;
        }
        Influences.Builder rows = new Influences.Builder(vertices);
        group.forEach(p -> rows.copyRows(Objects.requireNonNull(p.influences()), 0, p.vertexCount()));
        return rows.build();
    }

    /** Polygons, where all have them; groups and smoothing are not carried across. */
    private static @Nullable Faces faces(List<Primitive> group) {
        if (group.stream().anyMatch(p -> p.layout().faces() == null)) {
            return null;
        }
        int count = group.stream()
                .mapToInt(p -> Objects.requireNonNull(p.layout().faces()).count())
                .sum();
        int length = group.stream()
                .mapToInt(p -> Objects.requireNonNull(p.layout().faces()).corners().length)
                .sum();
        int[] starts = new int[count + 1];
        int[] corners = new int[length];
        int f = 0;
        int at = 0;
        int v = 0;
        for (Primitive p : group) {
            Faces own = Objects.requireNonNull(p.layout().faces());
            for (int i = 0; i < own.count(); i++) {
                for (int c = own.starts()[i]; c < own.starts()[i + 1]; c++) {
                    corners[at++] = own.corners()[c] + v;
                }
                starts[++f] = at;
            }
            v += p.vertexCount();
        }
        return new Faces(starts, corners, null, null, null, List.of());
    }
}
