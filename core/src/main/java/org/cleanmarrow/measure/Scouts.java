package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.Subset;

/** The few vertices of a mesh that stand for all of it where there is no time to look at all. */
final class Scouts {
    private Scouts() {}

    /** For every joint the vertices it moves that stand out furthest in eight directions, by place in the list; rising. */
    static int[] of(Side first, Side second, MeshPairs.Pair pair) {
        if (first.cached.get(pair.a().node()) || second.cached.get(pair.b().node())) {
            // Each goes its own way.
            return IntStream.range(0, pair.ofA().length).toArray();
        }
        Asset a = first.asset;
        float[] p = MeshTopology.restPositions(a.meshes().get(pair.a().mesh()));
        int[] heaviest = heaviest(a, pair);
        Map<Integer, double[]> most = new HashMap<>();
        Map<Integer, int[]> who = new HashMap<>();
        for (int i = 0; i < pair.ofA().length; i++) {
            int at = pair.ofA()[i] * 3;
            double[] best = most.computeIfAbsent(heaviest[i], k -> filled(Double.NEGATIVE_INFINITY));
            int[] which = who.computeIfAbsent(heaviest[i], k -> new int[8]);
            for (int d = 0; d < 8; d++) {
                double out = ((d & 1) == 0 ? p[at] : -p[at])
                        + ((d & 2) == 0 ? p[at + 1] : -p[at + 1])
                        + ((d & 4) == 0 ? p[at + 2] : -p[at + 2]);
                if (out > best[d] || Double.isNaN(out)) {
                    best[d] = out;
                    which[d] = i;
                }
            }
        }
        return who.values().stream()
                .flatMapToInt(Arrays::stream)
                .sorted()
                .distinct()
                .toArray();
    }

    /** An asset whose meshes have these vertices and no others, without triangles; nodes, skins and targets are the same. */
    static Asset alone(Asset asset, List<MeshPairs.Pair> pairs, List<int[]> scouts) {
        BitSet[] wanted = new BitSet[asset.meshes().size()];
        Arrays.setAll(wanted, m -> new BitSet());
        for (int i = 0; i < scouts.size(); i++) {
            BitSet of = wanted[pairs.get(i).a().mesh()];
            Arrays.stream(scouts.get(i)).forEach(of::set);
        }
        List<Mesh> meshes = new ArrayList<>();
        for (int m = 0; m < wanted.length; m++) {
            Mesh mesh = asset.meshes().get(m);
            List<Primitive> left = new ArrayList<>();
            int first = 0;
            for (Primitive p : mesh.primitives()) {
                int[] kept =
                        wanted[m].get(first, first + p.vertexCount()).stream().toArray();
                left.add(Subset.ofVertices(p, kept, new int[0]));
                first += p.vertexCount();
            }
            meshes.add(mesh.withPrimitives(left));
        }
        return asset.withMeshes(meshes);
    }

    private static double[] filled(double with) {
        double[] out = new double[8];
        Arrays.fill(out, with);
        return out;
    }

    /** Number of the joint that moves each vertex most; -1 where none does. */
    private static int[] heaviest(Asset a, MeshPairs.Pair pair) {
        int[] out = new int[pair.ofA().length];
        Arrays.fill(out, -1);
        int first = 0;
        int i = 0;
        for (Primitive primitive : a.meshes().get(pair.a().mesh()).primitives()) {
            Influences rows = pair.a().skin() < 0 ? null : primitive.influences();
            int end = first + primitive.vertexCount();
            for (; i < out.length && pair.ofA()[i] < end; i++) {
                float most = 0;
                int v = pair.ofA()[i] - first;
                for (int e = rows == null ? 0 : rows.offsets()[v]; rows != null && e < rows.offsets()[v + 1]; e++) {
                    if (rows.weights()[e] > most) {
                        most = rows.weights()[e];
                        out[i] = rows.joints()[e];
                    }
                }
            }
            first = end;
        }
        return out;
    }
}
