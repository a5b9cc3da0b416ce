package org.cleanmarrow.uv;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.cleanmarrow.geometry.DisjointSets;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Threads;

/**
 * The triangles of a mesh as they lie in a set of texture coordinates (glTF 2.0, 3.7.2: u to the right, v down, the picture from
 * 0 to 1), and the islands that they form there: triangles joined by edges both ends of which are one place of the surface and
 * one of the picture. Triangles without coordinates, or with some that are not finite, are left out. Found in the time of a
 * sort of the edges.
 */
public final class UvLayout {
    private static final String NAME = "TEXCOORD_";
    private static final int MOST_SETS = 16;

    private final float[] uv;
    private final int[] corners;
    private final int[] number;
    private final int[] material;
    private final int[] point;
    private final int[] island;
    private final int islandCount;
    private final BitSet border;
    /** By edge, the corner it leaves from: the triangle on its other side, or -1 where it is not one alone. */
    private final int[] across;

    private UvLayout(Mesh mesh, int set) {
        Threads.begins("texture coordinates");
        int vertices = mesh.vertexCount();
        uv = new float[2 * vertices];
        Arrays.fill(uv, Float.NaN);
        int all = mesh.triangleCount();
        int[] own = new int[3 * all];
        int[] numbers = new int[all];
        int[] materials = new int[all];
        int kept = 0;
        int seen = 0;
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            int[] local = p.triangleCorners();
            int start = first;
            values(p, set).ifPresent(v -> System.arraycopy(v, 0, uv, 2 * start, v.length));
            for (int t = 0; t + 2 < local.length; t += 3, seen++) {
                if (finite(first + local[t]) && finite(first + local[t + 1]) && finite(first + local[t + 2])) {
                    for (int i = 0; i < 3; i++) {
                        own[3 * kept + i] = first + local[t + i];
                    }
                    numbers[kept] = seen;
                    materials[kept++] = p.material();
                }
            }
            first += p.vertexCount();
        }
        corners = Arrays.copyOf(own, 3 * kept);
        number = Arrays.copyOf(numbers, kept);
        material = Arrays.copyOf(materials, kept);
        point = points(MeshTopology.of(mesh), uv);
        border = new BitSet();
        across = new int[corners.length];
        Arrays.fill(across, -1);
        DisjointSets sets = new DisjointSets(kept);
        joined(sets);
        island = sets.numbered();
        islandCount = sets.count();
    }

    /** How a mesh lies in a set; empty where none of its triangles does. */
    public static Optional<UvLayout> of(Mesh mesh, int set) {
        return sets(mesh).contains(set)
                ? Optional.of(new UvLayout(mesh, set)).filter(l -> l.triangleCount() > 0)
                : Optional.empty();
    }

    /** Numbers of the sets that a mesh has, rising. */
    public static List<Integer> sets(Mesh mesh) {
        return IntStream.range(0, MOST_SETS)
                .filter(s ->
                        mesh.primitives().stream().anyMatch(p -> values(p, s).isPresent()))
                .boxed()
                .toList();
    }

    /** The mesh with other coordinates, two a vertex, in the primitives that have the set; written as float. */
    public static Mesh with(Mesh mesh, int set, float[] changed) {
        int first = 0;
        List<Primitive> out = new ArrayList<>();
        for (Primitive p : mesh.primitives()) {
            int start = 2 * first;
            int end = start + 2 * p.vertexCount();
            out.add(p.withAttributes(p.attributes().stream()
                    .map(a -> is(a, set)
                            ? new Attribute(a.name(), 2, Arrays.copyOfRange(changed, start, end), Storage.FLOAT)
                            : a)
                    .toList()));
            first += p.vertexCount();
        }
        return mesh.withPrimitives(out);
    }

    private static Optional<float[]> values(Primitive p, int set) {
        return p.attributes().stream().filter(a -> is(a, set)).findFirst().map(Attribute::values);
    }

    private static boolean is(Attribute a, int set) {
        return a.width() == 2 && a.name().equals(NAME + set);
    }

    private boolean finite(int vertex) {
        return Float.isFinite(uv[2 * vertex]) && Float.isFinite(uv[2 * vertex + 1]);
    }

    /** For each vertex the lowest-numbered one on its place of the surface and of the picture. */
    private static int[] points(MeshTopology topology, float[] uv) {
        int n = topology.vertexCount();
        Integer[] order = new Integer[n];
        Arrays.setAll(order, v -> v);
        Arrays.sort(order, (a, b) -> {
            int by = Integer.compare(topology.weldedOf(a), topology.weldedOf(b));
            // Adding 0 makes -0 and 0 one place.
            by = by != 0 ? by : Float.compare(uv[2 * a] + 0f, uv[2 * b] + 0f);
            by = by != 0 ? by : Float.compare(uv[2 * a + 1] + 0f, uv[2 * b + 1] + 0f);
            return by != 0 ? by : Integer.compare(a, b);
        });
        int[] out = new int[n];
        for (int i = 0; i < n; i++) {
            int v = order[i];
            int before = i == 0 ? -1 : order[i - 1];
            boolean same = before >= 0
                    && topology.weldedOf(before) == topology.weldedOf(v)
                    && Float.compare(uv[2 * before] + 0f, uv[2 * v] + 0f) == 0
                    && Float.compare(uv[2 * before + 1] + 0f, uv[2 * v + 1] + 0f) == 0;
            out[v] = same ? out[before] : v;
        }
        return out;
    }

    /** Joins triangles along their edges, and notes the points of edges that only one triangle has, or more than two. */
    private void joined(DisjointSets sets) {
        int edges = corners.length;
        long[] key = new long[edges];
        Integer[] order = new Integer[edges];
        for (int e = 0; e < edges; e++) {
            int a = point[corners[e]];
            int b = point[corners[e - e % 3 + (e + 1) % 3]];
            key[e] = (long) Math.min(a, b) << 32 | Math.max(a, b);
            order[e] = e;
        }
        Arrays.sort(order, (x, y) -> Long.compare(key[x], key[y]));
        for (int i = 0; i < edges; ) {
            int end = i + 1;
            while (end < edges && key[order[end]] == key[order[i]]) {
                sets.join(order[i] / 3, order[end] / 3);
                end++;
            }
            if (end - i == 2) {
                across[order[i]] = order[i + 1] / 3;
                across[order[i + 1]] = order[i] / 3;
            } else {
                border.set((int) (key[order[i]] >> 32));
                border.set((int) key[order[i]]);
            }
            i = end;
        }
    }

    /** Coordinates, two a vertex of the mesh; not a number where there are none. */
    public float[] uv() {
        return uv;
    }

    /** Vertices of the mesh, three a triangle. */
    public int[] corners() {
        return corners;
    }

    public int triangleCount() {
        return material.length;
    }

    /** Which triangle of the mesh one here is: less where triangles before it have no coordinates. */
    public int triangleOfMesh(int triangle) {
        return number[triangle];
    }

    /** Material of a triangle, or -1. */
    public int materialOf(int triangle) {
        return material[triangle];
    }

    public int islandOf(int triangle) {
        return island[triangle];
    }

    public int islandCount() {
        return islandCount;
    }

    /** The lowest-numbered vertex on the same place of surface and picture. */
    public int pointOf(int vertex) {
        return point[vertex];
    }

    /** Whether a vertex lies on the border of its island. */
    public boolean isOnBorder(int vertex) {
        return border.get(point[vertex]);
    }

    /**
     * The triangle on the other side of an edge, named by the number of the corner that it leaves from; -1 on a border, or where
     * more than two meet.
     */
    public int across(int edge) {
        return across[edge];
    }

    /** Vertices of an island. */
    public BitSet verticesOf(int wanted) {
        BitSet out = new BitSet();
        for (int t = 0; t < island.length; t++) {
            if (island[t] == wanted) {
                out.set(corners[3 * t]);
                out.set(corners[3 * t + 1]);
                out.set(corners[3 * t + 2]);
            }
        }
        return out;
    }

    /** Twice the area of a triangle in the picture: below zero where it is seen the right way round, u to the right and v down. */
    public double twiceArea(int t) {
        return twiceArea(uv, corners, t);
    }

    static double twiceArea(float[] uv, int[] corners, int t) {
        int a = 2 * corners[3 * t];
        int b = 2 * corners[3 * t + 1];
        int c = 2 * corners[3 * t + 2];
        return ((double) uv[b] - uv[a]) * ((double) uv[c + 1] - uv[a + 1])
                - ((double) uv[c] - uv[a]) * ((double) uv[b + 1] - uv[a + 1]);
    }
}
