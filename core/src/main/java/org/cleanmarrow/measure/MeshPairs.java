package org.cleanmarrow.measure;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.text.Message;
import org.jspecify.annotations.Nullable;

/**
 * Which use of a mesh in one asset is which in another: by name (of several of one name, that at the node of the same
 * name, then in their order), then by topology where only one on either side has it, else none.
 */
final class MeshPairs {
    /**
     * Two uses that correspond.
     *
     * @param ofA drawn vertices of the first, rising
     * @param ofB their counterparts; its own drawn vertices where none correspond and the nearest point is taken
     */
    record Pair(MeshPlace a, MeshPlace b, int[] ofA, int[] ofB) {}

    private final Asset a;
    private final Asset b;
    private final Map<Integer, int[]> drawnA = new HashMap<>();
    private final Map<Integer, int[]> drawnB = new HashMap<>();
    /** Counterparts by the two meshes' numbers; many uses share them. */
    private final Map<List<Integer>, int[]> mapped = new HashMap<>();

    /** Pairs whose vertices do not correspond; the second's list holds its own drawn vertices then. */
    private final Set<Pair> nearest = Collections.newSetFromMap(new IdentityHashMap<>());

    final List<Pair> pairs = new ArrayList<>();
    final List<Message> unmatched = new ArrayList<>();
    final List<Message> topology = new ArrayList<>();
    /** Parts that have another name on either side, one sentence each. */
    final List<Message> renamed = new ArrayList<>();

    MeshPairs(Asset a, Asset b, List<MeshPlace> placesA, List<MeshPlace> placesB) {
        this.a = a;
        this.b = b;
        Map<String, Map<String, ArrayDeque<MeshPlace>>> byName = new LinkedHashMap<>();
        for (MeshPlace p : placesB) {
            byName.computeIfAbsent(p.label(b), k -> new LinkedHashMap<>())
                    .computeIfAbsent(b.nodes().get(p.node()).name(), k -> new ArrayDeque<>())
                    .add(p);
        }
        List<MeshPlace> later = new ArrayList<>();
        for (MeshPlace p : placesA) {
            Map<String, ArrayDeque<MeshPlace>> same = byName.getOrDefault(p.label(a), Map.of());
            ArrayDeque<MeshPlace> atNode = same.get(a.nodes().get(p.node()).name());
            if (atNode == null || atNode.isEmpty()) {
                later.add(p);
            } else {
                pair(p, atNode.poll());
            }
        }
        List<MeshPlace> leftA = new ArrayList<>();
        for (MeshPlace p : later) {
            ArrayDeque<MeshPlace> other = byName.getOrDefault(p.label(a), Map.of()).values().stream()
                    .filter(q -> !q.isEmpty())
                    .findFirst()
                    .orElse(null);
            if (other == null) {
                leftA.add(p);
            } else {
                pair(p, other.poll());
            }
        }
        List<MeshPlace> leftB = new ArrayList<>();
        byName.values().forEach(m -> m.values().forEach(leftB::addAll));
        // A copy made for a use of its own is called otherwise, but stands at the same node.
        byMake(leftA, leftB, true);
        byMake(leftA, leftB, false);
        leftA.forEach(p -> unmatched.add(Message.of("probe.mesh.first", p.label(a))));
        leftB.forEach(p -> unmatched.add(Message.of("probe.mesh.second", p.label(b))));
    }

    private record Make(long topology, String node) {}

    /** Renamed parts still correspond where only one on either side is of that make. */
    private void byMake(List<MeshPlace> leftA, List<MeshPlace> leftB, boolean atNode) {
        Map<Make, List<MeshPlace>> ofA = makes(a, leftA, atNode);
        Map<Make, List<MeshPlace>> ofB = makes(b, leftB, atNode);
        Set<MeshPlace> goneA = new HashSet<>();
        Set<MeshPlace> goneB = new HashSet<>();
        ofA.forEach((make, mine) -> {
            List<MeshPlace> theirs = ofB.getOrDefault(make, List.of());
            if (mine.size() == 1 && theirs.size() == 1) {
                MeshPlace p = mine.getFirst();
                MeshPlace q = theirs.getFirst();
                goneA.add(p);
                goneB.add(q);
                renamed.add(Message.of("probe.mesh.renamed", p.label(a), q.label(b)));
                pair(p, q);
            }
        });
        leftA.removeAll(goneA);
        leftB.removeAll(goneB);
    }

    /** Says which triangle is the first that is another. */
    private static Message otherTriangles(String mesh, Mesh x, Mesh y) {
        int[] one = MeshTopology.of(x).corners();
        int[] other = MeshTopology.of(y).corners();
        int at = Math.max(0, firstOther(one, other));
        return Message.of(
                "probe.mesh.triangles",
                mesh,
                x.triangleCount(),
                y.triangleCount(),
                at / 3,
                corners(one, at),
                corners(other, at));
    }

    private static String corners(int[] all, int at) {
        return at + 2 < all.length ? all[at] + " " + all[at + 1] + " " + all[at + 2] : "–";
    }

    private static Map<Make, List<MeshPlace>> makes(Asset asset, List<MeshPlace> places, boolean atNode) {
        Map<Make, List<MeshPlace>> out = new LinkedHashMap<>();
        for (MeshPlace p : places) {
            long topology = MeshTopology.of(asset.meshes().get(p.mesh())).hash();
            String node = atNode ? asset.nodes().get(p.node()).name() : "";
            out.computeIfAbsent(new Make(topology, node), k -> new ArrayList<>())
                    .add(p);
        }
        return out;
    }

    private void pair(MeshPlace p, MeshPlace q) {
        Mesh x = a.meshes().get(p.mesh());
        Mesh y = b.meshes().get(q.mesh());
        int[] ofA = drawnA.computeIfAbsent(p.mesh(), k -> drawn(x));
        int[] ofB = drawnB.computeIfAbsent(q.mesh(), k -> drawn(y));
        if (ofA.length == 0 || ofB.length == 0) {
            if (ofA.length != ofB.length) {
                topology.add(Message.of("probe.mesh.vertices", p.label(a), ofA.length, ofB.length));
            }
            return;
        }
        List<Integer> key = List.of(p.mesh(), q.mesh());
        if (!mapped.containsKey(key)) {
            mapped.put(key, counterparts(x, y, ofA, ofB));
        }
        int[] to = mapped.get(key);
        pairs.add(new Pair(p, q, ofA, to == null ? ofB : to));
        if (to == null) {
            nearest.add(pairs.getLast());
            boolean count = ofA.length != ofB.length;
            topology.add(
                    count
                            ? Message.of("probe.mesh.nearest", p.label(a), ofA.length, ofB.length)
                            : otherTriangles(p.label(a), x, y));
        }
    }

    boolean byNearest(Pair pair) {
        return nearest.contains(pair);
    }

    /** Vertices that anything is drawn with, rising. */
    private static int[] drawn(Mesh mesh) {
        boolean[] used = new boolean[mesh.vertexCount()];
        int first = 0;
        for (Primitive p : mesh.primitives()) {
            if (p.indices() == null) {
                Arrays.fill(used, first, first + p.vertexCount(), true);
            } else {
                for (int i : p.indices()) {
                    used[first + i] = true;
                }
            }
            first += p.vertexCount();
        }
        int many = 0;
        int[] out = new int[used.length];
        for (int v = 0; v < used.length; v++) {
            if (used[v]) {
                out[many++] = v;
            }
        }
        return Arrays.copyOf(out, many);
    }

    /**
     * The vertex of the second mesh for each drawn one of the first: the same number where the triangles are the same,
     * either way round; where only what is never drawn shifts the numbers, corner by corner; otherwise null.
     */
    private static int @Nullable [] counterparts(Mesh x, Mesh y, int[] ofA, int[] ofB) {
        if (ofA.length != ofB.length) {
            return null;
        }
        int[] p = MeshTopology.of(x).corners();
        int[] q = MeshTopology.of(y).corners();
        if (x.vertexCount() == y.vertexCount() && Arrays.equals(ofA, ofB) && sameTriangles(p, q)) {
            return ofA;
        }
        // Both lists rise; where only unused vertices differ their order is the same, and so are the triangles.
        int[] rank = new int[x.vertexCount()];
        int[] other = new int[y.vertexCount()];
        for (int i = 0; i < ofA.length; i++) {
            rank[ofA[i]] = i;
            other[ofB[i]] = i;
        }
        int[] pr = Arrays.stream(p).map(v -> rank[v]).toArray();
        int[] qr = Arrays.stream(q).map(v -> other[v]).toArray();
        return sameTriangles(pr, qr) ? ofB : null;
    }

    /** The same triangles in the same order, each with the same corners, wherever it begins and whichever way round. */
    private static boolean sameTriangles(int[] p, int[] q) {
        return p.length == q.length && firstOther(p, q) < 0;
    }

    /** Where the first corner of the first triangle stands that has other corners or is in one list alone; -1 where none is. */
    private static int firstOther(int[] p, int[] q) {
        int both = Math.min(p.length, q.length);
        for (int t = 0; t + 2 < both; t += 3) {
            if (p[t] == q[t] && p[t + 1] == q[t + 1] && p[t + 2] == q[t + 2]) {
                continue;
            }
            int[] m = {p[t], p[t + 1], p[t + 2]};
            int[] n = {q[t], q[t + 1], q[t + 2]};
            Arrays.sort(m);
            Arrays.sort(n);
            if (!Arrays.equals(m, n)) {
                return t;
            }
        }
        return p.length == q.length ? -1 : both;
    }
}
