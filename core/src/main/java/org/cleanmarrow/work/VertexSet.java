package org.cleanmarrow.work;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.surface.MeshTopology;

/**
 * Chosen vertices of one mesh, remembered so that they can be found again on another version of it: by number
 * while the triangles are the same, otherwise by where they were.
 *
 * @param vertices   numbers in the mesh, through its primitives
 * @param of         vertex count of the mesh they were chosen on; 0: not remembered, numbers hold as they are
 * @param topology   {@link MeshTopology#hash} then
 * @param positions  3 a chosen vertex, rising by number; empty where not remembered
 * @param everything all vertices of whatever mesh it is used on; the rest is empty then
 */
public record VertexSet(BitSet vertices, int of, long topology, float[] positions, boolean everything) {

    /** All vertices of any mesh. */
    public static final VertexSet ALL = new VertexSet(new BitSet(), 0, 0, new float[0], true);

    /** By what it holds. */
    @Override
    public boolean equals(Object other) {
        return other instanceof VertexSet set
                && everything == set.everything
                && of == set.of
                && topology == set.topology
                && vertices.equals(set.vertices)
                && Arrays.equals(positions, set.positions);
    }

    @Override
    public int hashCode() {
        return Objects.hash(vertices, of, topology, everything);
    }

    /** Remembers a choice made on a mesh. */
    public static VertexSet chosen(Mesh mesh, BitSet vertices) {
        float[] all = MeshTopology.restPositions(mesh);
        float[] at = new float[vertices.cardinality() * 3];
        int next = 0;
        for (int v = vertices.nextSetBit(0); v >= 0; v = vertices.nextSetBit(v + 1)) {
            System.arraycopy(all, v * 3, at, next, 3);
            next += 3;
        }
        BitSet own = (BitSet) vertices.clone();
        return new VertexSet(own, mesh.vertexCount(), MeshTopology.of(mesh).hash(), at, false);
    }

    /** Plain numbers, with nothing remembered. */
    public static VertexSet numbers(BitSet vertices) {
        return new VertexSet((BitSet) vertices.clone(), 0, 0, new float[0], false);
    }

    /**
     * The vertices on a mesh as it is now.
     *
     * @throws Refused when they are not all there any more
     */
    public BitSet on(Mesh mesh) throws Refused {
        int count = mesh.vertexCount();
        if (everything) {
            BitSet all = new BitSet(count);
            all.set(0, count);
            return all;
        }
        boolean sameTopology = of == count && MeshTopology.of(mesh).hash() == topology;
        if (of == 0 || sameTopology) {
            if (vertices.length() > count) {
                throw new Refused("vertices.range", mesh.name(), vertices.length() - 1, count);
            }
            return vertices;
        }
        return byPosition(mesh);
    }

    /**
     * Numbers given for the chosen vertices, in their order, on all vertices of a mesh as it is now; zero elsewhere.
     *
     * @throws Refused when the vertices are not all there any more
     */
    public float[] spread(Mesh mesh, float[] numbers) throws Refused {
        float[] out = new float[mesh.vertexCount()];
        BitSet found = on(mesh);
        if (everything || found == vertices) {
            int next = 0;
            for (int v = found.nextSetBit(0); v >= 0; v = found.nextSetBit(v + 1)) {
                out[v] = next < numbers.length ? numbers[next++] : 0;
            }
            return out;
        }
        float[] all = MeshTopology.restPositions(mesh);
        Map<Place, Float> byPlace = new HashMap<>();
        for (int i = 0; i < Math.min(numbers.length, positions.length / 3); i++) {
            byPlace.merge(Place.of(positions, i), numbers[i], Math::max);
        }
        for (int v = 0; v < out.length; v++) {
            out[v] = byPlace.getOrDefault(Place.of(all, v), 0f);
        }
        return out;
    }

    private BitSet byPosition(Mesh mesh) throws Refused {
        float[] all = MeshTopology.restPositions(mesh);
        Map<Place, BitSet> byPlace = new HashMap<>();
        for (int v = 0; v < all.length / 3; v++) {
            byPlace.computeIfAbsent(Place.of(all, v), k -> new BitSet()).set(v);
        }
        BitSet found = new BitSet();
        int lost = 0;
        for (int i = 0; i < positions.length / 3; i++) {
            BitSet here = byPlace.get(Place.of(positions, i));
            if (here == null) {
                lost++;
            } else {
                found.or(here);
            }
        }
        if (lost > 0) {
            throw new Refused("vertices.lost", mesh.name(), lost, positions.length / 3);
        }
        return found;
    }

    private record Place(float x, float y, float z) {
        static Place of(float[] p, int v) {
            return new Place(p[v * 3] + 0f, p[v * 3 + 1] + 0f, p[v * 3 + 2] + 0f);
        }
    }
}
