package org.cleanmarrow.surface;

import java.lang.ref.SoftReference;
import java.lang.ref.WeakReference;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.WeakHashMap;
import java.util.stream.Stream;
import org.cleanmarrow.geometry.DisjointSets;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.jspecify.annotations.Nullable;

/**
 * How a mesh hangs together: its triangles through all primitives, which vertices lie on one place, and the
 * connected islands. Found once for a set of index and position arrays and kept while they are in use, however many there
 * are.
 */
public final class MeshTopology {
    /** By the first array of positions, which arrays are by identity; gone with it, or when memory is wanted. */
    private static final Map<float[], List<Known>> KNOWN = new WeakHashMap<>();

    private final int vertexCount;
    private @Nullable WeldedSurface welded;
    private final int[] corners;
    private final int[] place;
    private final int[] island;
    private final int islandCount;
    private final long hash;
    private @Nullable Neighbours neighbours;

    /** A topology and the arrays it was found for: it does not change while they are the same objects. */
    private record Known(
            List<WeakReference<?>> arrays, List<Primitive.Mode> modes, SoftReference<MeshTopology> topology) {
        static Known of(Mesh mesh, MeshTopology topology) {
            return new Known(
                    arrays(mesh).<WeakReference<?>>map(WeakReference::new).toList(),
                    modes(mesh),
                    new SoftReference<>(topology));
        }

        private static Stream<Object> arrays(Mesh mesh) {
            return mesh.primitives().stream()
                    .flatMap(p -> Stream.of(p.positions(), p.indices() == null ? NO_INDICES : p.indices()));
        }

        private static List<Primitive.Mode> modes(Mesh mesh) {
            return mesh.primitives().stream().map(Primitive::mode).toList();
        }

        boolean fits(Mesh mesh) {
            if (arrays.size() != 2 * mesh.primitives().size() || !modes.equals(modes(mesh))) {
                return false;
            }
            Iterator<WeakReference<?>> known = arrays.iterator();
            return arrays(mesh).allMatch(a -> known.next().get() == a);
        }
    }

    private static final Object NO_INDICES = new Object();

    /** The topology of a mesh; found once for arrays that are the same objects. Safe from several threads. */
    public static MeshTopology of(Mesh mesh) {
        if (mesh.primitives().isEmpty()) {
            return new MeshTopology(mesh);
        }
        float[] first = mesh.primitives().getFirst().positions();
        synchronized (KNOWN) {
            for (Known known : KNOWN.getOrDefault(first, List.of())) {
                MeshTopology topology = known.fits(mesh) ? known.topology.get() : null;
                if (topology != null) {
                    return topology;
                }
            }
        }
        MeshTopology made = new MeshTopology(mesh);
        synchronized (KNOWN) {
            List<Known> all = KNOWN.computeIfAbsent(first, k -> new ArrayList<>());
            all.removeIf(k -> k.topology.get() == null || k.arrays.stream().anyMatch(a -> a.get() == null));
            all.add(Known.of(mesh, made));
        }
        return made;
    }

    private MeshTopology(Mesh mesh) {
        vertexCount = mesh.vertexCount();
        corners = globalCorners(mesh);
        place = weld(restPositions(mesh));
        DisjointSets sets = new DisjointSets(vertexCount);
        for (int v = 0; v < vertexCount; v++) {
            sets.join(v, place[v]);
        }
        for (int t = 0; t + 2 < corners.length; t += 3) {
            sets.join(corners[t], corners[t + 1]);
            sets.join(corners[t], corners[t + 2]);
        }
        island = sets.numbered();
        islandCount = sets.count();
        hash = hashOf(corners, vertexCount);
    }

    /** Blind to which way round triangles turn, so that a mirroring conversion keeps the topology. */
    private static long hashOf(int[] corners, int vertexCount) {
        long h = vertexCount;
        for (int t = 0; t + 2 < corners.length; t += 3) {
            long a = corners[t];
            long b = corners[t + 1];
            long c = corners[t + 2];
            h = h * 0x9E3779B97F4A7C15L + (a + b + c) + (a * b + b * c + c * a) * 31 + a * b * c;
        }
        return h;
    }

    /** Positions at rest of all primitives, one after the other, as {@link Mesh} numbers them. */
    public static float[] restPositions(Mesh mesh) {
        if (mesh.primitives().size() == 1) {
            return mesh.primitives().getFirst().positions();
        }
        float[] all = new float[mesh.vertexCount() * 3];
        int at = 0;
        for (Primitive primitive : mesh.primitives()) {
            System.arraycopy(primitive.positions(), 0, all, at, primitive.positions().length);
            at += primitive.positions().length;
        }
        return all;
    }

    private static int[] globalCorners(Mesh mesh) {
        int total = mesh.primitives().stream()
                .mapToInt(p -> p.triangleCorners().length)
                .sum();
        int[] all = new int[total];
        int at = 0;
        int first = 0;
        for (Primitive primitive : mesh.primitives()) {
            for (int corner : primitive.triangleCorners()) {
                all[at++] = corner + first;
            }
            first += primitive.vertexCount();
        }
        return all;
    }

    /** For each vertex the lowest-numbered one at exactly the same position. */
    static int[] weld(float[] positions) {
        int n = positions.length / 3;
        int size = Integer.highestOneBit(Math.max(16, n * 2)) * 2;
        int[] table = new int[size];
        Arrays.fill(table, -1);
        int[] place = new int[n];
        for (int v = 0; v < n; v++) {
            int slot = hash(positions, v) & (size - 1);
            while (table[slot] >= 0 && !same(positions, table[slot], v)) {
                slot = (slot + 1) & (size - 1);
            }
            if (table[slot] < 0) {
                table[slot] = v;
            }
            place[v] = table[slot];
        }
        return place;
    }

    private static int hash(float[] p, int v) {
        // Adding 0 makes -0 and 0 the same place.
        int h = Float.floatToIntBits(p[v * 3] + 0f) * 0x9E3779B1;
        h ^= Float.floatToIntBits(p[v * 3 + 1] + 0f) * 0x85EBCA77;
        h ^= Float.floatToIntBits(p[v * 3 + 2] + 0f) * 0xC2B2AE3D;
        h ^= h >>> 15;
        h *= 0x2C1B3C6D;
        return h ^ h >>> 13;
    }

    private static boolean same(float[] p, int a, int b) {
        return p[a * 3] == p[b * 3] && p[a * 3 + 1] == p[b * 3 + 1] && p[a * 3 + 2] == p[b * 3 + 2];
    }

    /** The surface with what lies on one place welded, at rest in the mesh's own space. */
    public synchronized WeldedSurface welded(Mesh mesh) {
        WeldedSurface known = welded;
        if (known == null) {
            known = new WeldedSurface(this, restPositions(mesh));
            welded = known;
        }
        return known;
    }

    public int vertexCount() {
        return vertexCount;
    }

    /** Three vertex numbers a triangle. */
    public int[] corners() {
        return corners;
    }

    /** The vertex that stands for all at the same place as this one. */
    public int weldedOf(int vertex) {
        return place[vertex];
    }

    public int islandOf(int vertex) {
        return island[vertex];
    }

    public int islandCount() {
        return islandCount;
    }

    /** Same vertex count and triangles, either way round, give the same number, wherever the vertices are. */
    public long hash() {
        return hash;
    }

    /** All vertices of the islands that the given vertices lie on. */
    public BitSet islandsOf(BitSet vertices) {
        boolean[] wanted = new boolean[islandCount];
        vertices.stream().forEach(v -> wanted[island[v]] = true);
        BitSet out = new BitSet(vertexCount);
        for (int v = 0; v < vertexCount; v++) {
            if (wanted[island[v]]) {
                out.set(v);
            }
        }
        return out;
    }

    /** The vertices and all that share a triangle or a place with them. */
    public BitSet grown(BitSet vertices) {
        BitSet places = new BitSet(vertexCount);
        vertices.stream().forEach(v -> places.set(place[v]));
        BitSet wide = new BitSet(vertexCount);
        wide.or(places);
        for (int t = 0; t + 2 < corners.length; t += 3) {
            int a = place[corners[t]];
            int b = place[corners[t + 1]];
            int c = place[corners[t + 2]];
            if (places.get(a) || places.get(b) || places.get(c)) {
                wide.set(a);
                wide.set(b);
                wide.set(c);
            }
        }
        return sameWelded(wide);
    }

    /** The vertices and all that lie exactly where one of them does. */
    public BitSet sameWelded(BitSet vertices) {
        BitSet places = new BitSet(vertexCount);
        vertices.stream().forEach(v -> places.set(place[v]));
        BitSet out = new BitSet(vertexCount);
        for (int v = 0; v < vertexCount; v++) {
            if (places.get(place[v])) {
                out.set(v);
            }
        }
        return out;
    }

    /** The vertices of all triangles that have a corner among the given ones; with {@code whole}, all corners. */
    public BitSet facesOf(BitSet vertices, boolean whole) {
        BitSet out = new BitSet(vertexCount);
        for (int t = 0; t + 2 < corners.length; t += 3) {
            boolean a = vertices.get(corners[t]);
            boolean b = vertices.get(corners[t + 1]);
            boolean c = vertices.get(corners[t + 2]);
            if (whole ? a && b && c : a || b || c) {
                out.set(corners[t]);
                out.set(corners[t + 1]);
                out.set(corners[t + 2]);
            }
        }
        return out;
    }

    /** The vertices without those beside one that is not chosen. */
    public BitSet shrunk(BitSet vertices) {
        BitSet rest = new BitSet(vertexCount);
        rest.set(0, vertexCount);
        rest.andNot(vertices);
        BitSet out = grown(rest);
        out.flip(0, vertexCount);
        return out;
    }

    /** Places that share a triangle edge with the place of a vertex; each once, as standing vertices. */
    public synchronized int[] neighboursOf(int vertex) {
        Neighbours all = neighbours;
        if (all == null) {
            all = Neighbours.of(corners, corner -> place[corner], vertexCount);
            neighbours = all;
        }
        int p = place[vertex];
        return Arrays.copyOfRange(all.of(), all.starts()[p], all.starts()[p + 1]);
    }
}
