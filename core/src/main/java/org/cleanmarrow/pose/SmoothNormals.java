package org.cleanmarrow.pose;

import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.geometry.TriangleNormals;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;

/**
 * Normals found from the triangles around each vertex, weighted by their area, for shapes that come without. Vertices of
 * one place and one normal at rest share theirs, so that edges that were hard stay hard.
 *
 * <p>Cost: one pass over the triangles and one over the vertices.
 */
final class SmoothNormals {
    private final int[] corners;
    /** For each vertex the first that shares its normal. */
    private final int[] shared;

    SmoothNormals(Mesh mesh) {
        shared = new int[mesh.vertexCount()];
        int[][] all = new int[mesh.primitives().size()][];
        Map<List<Float>, Integer> alike = new HashMap<>();
        int first = 0;
        for (int i = 0; i < all.length; i++) {
            Primitive p = mesh.primitives().get(i);
            int from = first;
            all[i] = Arrays.stream(p.triangleCorners()).map(c -> c + from).toArray();
            for (int v = 0; v < p.vertexCount(); v++) {
                Integer there = alike.putIfAbsent(key(p, v), first + v);
                shared[first + v] = there == null ? first + v : there;
            }
            first += p.vertexCount();
        }
        corners = Arrays.stream(all).flatMapToInt(Arrays::stream).toArray();
    }

    private static List<Float> key(Primitive p, int v) {
        float[] at = p.positions();
        float[] n = p.normals();
        return n == null
                ? List.of(at[3 * v], at[3 * v + 1], at[3 * v + 2])
                : List.of(at[3 * v], at[3 * v + 1], at[3 * v + 2], n[3 * v], n[3 * v + 1], n[3 * v + 2]);
    }

    /** Normals, not of unit length, for positions of all vertices. */
    void of(float[] p, float[] out) {
        Arrays.fill(out, 0, shared.length * 3, 0);
        float[] normal = new float[3];
        for (int t = 0; t + 2 < corners.length; t += 3) {
            TriangleNormals.put(corners, t, p, normal, 0);
            for (int corner = t; corner < t + 3; corner++) {
                for (int k = 0; k < 3; k++) {
                    out[shared[corners[corner]] * 3 + k] += normal[k];
                }
            }
        }
        for (int v = 0; v < shared.length; v++) {
            System.arraycopy(out, shared[v] * 3, out, v * 3, 3);
        }
    }
}
