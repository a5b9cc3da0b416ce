package org.cleanmarrow.bench;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.weights.Row;

/** Meshes with four triangles for one: a vertex in the middle of every edge, weights halfway. Texture coordinates go. */
final class Finer {
    private Finer() {}

    static Asset mesh(Asset asset, String name) {
        int m = asset.findMesh(name);
        Mesh mesh = asset.meshes().get(m);
        return asset.withMesh(
                m,
                mesh.withPrimitives(mesh.primitives().stream().map(Finer::split).toList()));
    }

    private static Primitive split(Primitive p) {
        int[] t = p.indices();
        Map<Long, Integer> middles = new HashMap<>();
        List<int[]> ends = new ArrayList<>();
        int[] out = new int[t.length * 4];
        int end = 0;
        for (int i = 0; i < t.length; i += 3) {
            int[] middle = new int[3];
            for (int k = 0; k < 3; k++) {
                int a = t[i + k];
                int b = t[i + (k + 1) % 3];
                long key = Math.min(a, b) * (1L << 32) + Math.max(a, b);
                middle[k] = middles.computeIfAbsent(key, x -> {
                    ends.add(new int[] {a, b});
                    return p.vertexCount() + ends.size() - 1;
                });
            }
            for (int corner : new int[] {
                t[i], middle[0], middle[2], middle[0], t[i + 1], middle[1], middle[2], middle[1], t[i + 2], middle[0],
                middle[1], middle[2]
            }) {
                out[end++] = corner;
            }
        }
        int count = p.vertexCount() + ends.size();
        float[] points = Arrays.copyOf(p.positions(), count * 3);
        Influences.Builder rows = new Influences.Builder(count);
        Influences were = p.influences();
        if (were != null) {
            rows.copyRows(were, 0, p.vertexCount());
        }
        for (int i = 0; i < ends.size(); i++) {
            int[] pair = ends.get(i);
            for (int k = 0; k < 3; k++) {
                points[(p.vertexCount() + i) * 3 + k] = (points[pair[0] * 3 + k] + points[pair[1] * 3 + k]) / 2;
            }
            Row row = new Row();
            if (were != null) {
                row.add(were, pair[0], 0.5);
                row.add(were, pair[1], 0.5);
                row.normalise();
                row.to(rows);
            }
        }
        Primitive finer = Primitive.triangles(out, points, null, p.material());
        return were == null ? finer : finer.withInfluences(rows.build());
    }
}
