package org.cleanmarrow.surface;

import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;

/**
 * How a mesh hangs together: its triangles through all primitives, which vertices lie on one place, and the
 * connected shells. Found once for a set of index and position arrays and kept while they are in use.
 */
public final class MeshTopology {
    private static final int KEPT = 24;
    private static final Map<Key, MeshTopology> CACHE = new LinkedHashMap<>(KEPT, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Key, MeshTopology> eldest) {
            return size() > KEPT;
        }
    };

    private final int vertexCount;
    private WeldedSurface welded;
    private final int[] corners;
    private final int[] place;
    private final int[] shell;
    private final int shellCount;
    private final long hash;
    private int[] neighbourStarts;
    private int[] neighbours;

    /** Arrays compared by identity: topology does not change while they are the same objects. */
    private record Key(List<float[]> positions, List<int[]> indices) {
        static Key of(Mesh mesh) {
            return new Key(
                    mesh.primitives().stream().map(Primitive::positions).toList(),
                    mesh.primitives().stream()
                            .map(p -> p.indices() == null ? new int[0] : p.indices())
                            .toList());
        }

        @Override
        public boolean equals(Object other) {
            if (!(other instanceof Key o) || o.positions.size() != positions.size()) {
                return false;
            }
            for (int i = 0; i < positions.size(); i++) {
                boolean sameIndices = o.indices.get(i) == indices.get(i)
                        || o.indices.get(i).length == 0 && indices.get(i).length == 0;
                if (o.positions.get(i) != positions.get(i) || !sameIndices) {
                    return false;
                }
            }
            return true;
        }

        @Override
        public int hashCode() {
            int h = 1;
            for (float[] p : positions) {
                h = 31 * h + System.identityHashCode(p);
            }
            return h;
        }
    }

    /** The topology of a mesh, from the cache where its arrays were seen lately. */
    public static MeshTopology of(Mesh mesh) {
        Key key = Key.of(mesh);
        synchronized (CACHE) {
            MeshTopology known = CACHE.get(key);
            if (known != null) {
                return known;
            }
        }
        MeshTopology made = new MeshTopology(mesh);
        synchronized (CACHE) {
            CACHE.put(key, made);
        }
        return made;
    }

    private MeshTopology(Mesh mesh) {
        vertexCount = mesh.vertexCount();
        corners = globalCorners(mesh);
        place = weld(restPositions(mesh));
        int[] up = new int[vertexCount];
        for (int v = 0; v < vertexCount; v++) {
            up[v] = place[v];
        }
        for (int t = 0; t + 2 < corners.length; t += 3) {
            join(up, corners[t], corners[t + 1]);
            join(up, corners[t], corners[t + 2]);
        }
        shell = new int[vertexCount];
        int[] number = new int[vertexCount];
        Arrays.fill(number, -1);
        int shells = 0;
        for (int v = 0; v < vertexCount; v++) {
            int top = top(up, v);
            if (number[top] < 0) {
                number[top] = shells++;
            }
            shell[v] = number[top];
        }
        shellCount = shells;
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

    private static void join(int[] up, int a, int b) {
        int x = top(up, a);
        int y = top(up, b);
        up[Math.max(x, y)] = Math.min(x, y);
    }

    private static int top(int[] up, int v) {
        while (up[v] != v) {
            up[v] = up[up[v]];
            v = up[v];
        }
        return v;
    }

    /** The surface with what lies on one place welded, at rest in the mesh's own space. */
    public synchronized WeldedSurface welded(Mesh mesh) {
        if (welded == null) {
            welded = new WeldedSurface(this, restPositions(mesh));
        }
        return welded;
    }

    public int vertexCount() {
        return vertexCount;
    }

    /** Three vertex numbers a triangle. */
    public int[] corners() {
        return corners;
    }

    /** The vertex that stands for all at the same place as this one. */
    public int placeOf(int vertex) {
        return place[vertex];
    }

    public int shellOf(int vertex) {
        return shell[vertex];
    }

    public int shellCount() {
        return shellCount;
    }

    /** Same vertex count and triangles, either way round, give the same number, wherever the vertices are. */
    public long hash() {
        return hash;
    }

    /** All vertices of the shells that the given vertices lie on. */
    public BitSet shellsOf(BitSet vertices) {
        boolean[] wanted = new boolean[shellCount];
        vertices.stream().forEach(v -> wanted[shell[v]] = true);
        BitSet out = new BitSet(vertexCount);
        for (int v = 0; v < vertexCount; v++) {
            if (wanted[shell[v]]) {
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
        return samePlaces(wide);
    }

    /** The vertices and all that lie exactly where one of them does. */
    public BitSet samePlaces(BitSet vertices) {
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
        if (neighbourStarts == null) {
            buildNeighbours();
        }
        int p = place[vertex];
        return Arrays.copyOfRange(neighbours, neighbourStarts[p], neighbourStarts[p + 1]);
    }

    private void buildNeighbours() {
        long[] edges = new long[corners.length * 2];
        int count = 0;
        for (int t = 0; t + 2 < corners.length; t += 3) {
            for (int i = 0; i < 3; i++) {
                int a = place[corners[t + i]];
                int b = place[corners[t + (i + 1) % 3]];
                if (a != b) {
                    edges[count++] = (long) a << 32 | b;
                    edges[count++] = (long) b << 32 | a;
                }
            }
        }
        long[] sorted = Arrays.stream(edges, 0, count).sorted().distinct().toArray();
        neighbourStarts = new int[vertexCount + 1];
        neighbours = new int[sorted.length];
        for (int e = 0; e < sorted.length; e++) {
            neighbourStarts[(int) (sorted[e] >> 32) + 1]++;
            neighbours[e] = (int) sorted[e];
        }
        for (int v = 0; v < vertexCount; v++) {
            neighbourStarts[v + 1] += neighbourStarts[v];
        }
    }
}
