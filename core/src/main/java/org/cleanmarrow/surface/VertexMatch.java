package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntUnaryOperator;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;

/**
 * Which vertex of a mesh is which of another that it was made from, after an editor put them in another order, split or welded them
 * and moved them.
 *
 * <p>By connectivity first: from one triangle that is known, its neighbours are known, and theirs. The first is found by what
 * lies around its corners; where several look alike, as on a symmetric mesh, that counts whose surroundings lie nearest. Where the
 * triangles differ, the nearest place counts that is nearest the other way too, looks the same way and has the same neighbours.
 * Triangles must turn the same way round in both, and both lie in the same space; how far places were moved does not matter where
 * the triangles are the same.
 *
 * <p>Costs n log n in the number of vertices, and as much again for each of up to a few dozen likenesses of a symmetric mesh.
 */
public final class VertexMatch {
    private VertexMatch() {}

    /**
     * Finds for each vertex of the template the one of the edited mesh, as {@link Mesh} numbers them; -1 where none could be told.
     * Where several are on one place that is the one that its triangle has, or whose texture coordinates are nearest.
     *
     * @param beat called now and then; what it throws ends the search
     */
    public static int[] of(Mesh template, Mesh edited, Runnable beat) {
        int[] welded = found(template, edited, true, beat);
        if (missing(welded) == 0) {
            return welded;
        }
        // Vertices of one place may have been moved apart; then those that the triangles have tell more.
        int[] apart = found(template, edited, false, beat);
        return missing(apart) < missing(welded) ? apart : welded;
    }

    private static long missing(int[] found) {
        return Arrays.stream(found).filter(v -> v < 0).count();
    }

    private static int[] found(Mesh template, Mesh edited, boolean welded, Runnable beat) {
        MeshTopology a = MeshTopology.of(template);
        MeshTopology b = MeshTopology.of(edited);
        PlacePairs pairs = PlacePairs.unknown(
                new Faceted(a, welded),
                MeshTopology.restPositions(template),
                new Faceted(b, welded),
                MeshTopology.restPositions(edited));
        new SameTriangles(pairs).find(beat);
        IntUnaryOperator placeA = welded ? a::weldedOf : v -> v;
        IntUnaryOperator placeB = welded ? b::weldedOf : v -> v;
        new NearPlaces(pairs).find(placeA, placeB, beat);
        return vertices(pairs, a.corners(), placeA, b.corners(), placeB, new Seams(template, edited));
    }

    /** From places to vertices. */
    private static int[] vertices(
            PlacePairs pairs,
            int[] corners,
            IntUnaryOperator placeA,
            int[] cornersEdited,
            IntUnaryOperator placeB,
            Seams seams) {
        int[] out = new int[pairs.to().length];
        Arrays.fill(out, -1);
        int[] corner = pairs.corner();
        for (int c = 0; c < corner.length; c++) {
            if (corner[c] >= 0) {
                int v = corners[c];
                int e = cornersEdited[corner[c]];
                out[v] = out[v] < 0 ? e : seams.nearer(v, out[v], e);
            }
        }
        Map<Integer, List<Integer>> at = new HashMap<>();
        for (int e = 0; e < pairs.back().length; e++) {
            at.computeIfAbsent(placeB.applyAsInt(e), k -> new ArrayList<>()).add(e);
        }
        BitSet used = new BitSet();
        Arrays.stream(out).filter(e -> e >= 0).forEach(used::set);
        for (int v = 0; v < out.length; v++) {
            int there = pairs.to()[placeA.applyAsInt(v)];
            if (out[v] < 0 && there >= 0) {
                // One that is not yet any other's, where there is a choice.
                List<Integer> all = at.getOrDefault(there, List.of());
                List<Integer> free = all.stream().filter(e -> !used.get(e)).toList();
                for (int e : free.isEmpty() ? all : free) {
                    out[v] = out[v] < 0 ? e : seams.nearer(v, out[v], e);
                }
                used.set(out[v]);
            }
        }
        return out;
    }

    /** Tells vertices of one place apart by their first texture coordinates. */
    private static final class Seams {
        private final float[] was;
        private final float[] is;

        Seams(Mesh template, Mesh edited) {
            was = coordinates(template);
            is = coordinates(edited);
        }

        private static float[] coordinates(Mesh mesh) {
            float[] out = new float[mesh.vertexCount() * 2];
            int at = 0;
            for (Primitive p : mesh.primitives()) {
                float[] own = p.attribute("TEXCOORD_0").map(Attribute::values).orElse(new float[0]);
                System.arraycopy(own, 0, out, at, Math.min(own.length, p.vertexCount() * 2));
                at += p.vertexCount() * 2;
            }
            return out;
        }

        /** The first of two vertices unless the second's are nearer. */
        int nearer(int v, int one, int other) {
            return off(v, other) < off(v, one) ? other : one;
        }

        private double off(int v, int e) {
            return Math.hypot(was[v * 2] - is[e * 2], was[v * 2 + 1] - is[e * 2 + 1]);
        }
    }
}
