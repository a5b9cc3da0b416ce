package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.function.IntUnaryOperator;
import org.cleanmarrow.geometry.PointTree;
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
    /** Triangles of a connected piece that are tried as its first. */
    private static final int SEEDS = 8;
    /** Likenesses of each that are tried, the nearest. */
    private static final int LIKENESSES = 64;
    /** Triangles around one by which likenesses are told apart. */
    private static final int AROUND = 300;
    /** Likenesses that are followed to their end. */
    private static final int FOLLOWED = 4;
    /** Cosine of the most that the normals of places may part where only nearness tells. */
    private static final double SAME_WAY = 0.5;

    private final Faceted template;
    private final Faceted edited;
    private final float[] was;
    private final float[] is;
    /** For every corner of the template's triangles that of the edited one. */
    private final int[] corner;
    /** For every place of the template that of the edited one, and back; -1 where none is known. */
    private final int[] to;

    private final int[] back;

    private VertexMatch(MeshTopology a, float[] was, MeshTopology b, float[] is, boolean welded) {
        template = new Faceted(a, welded);
        edited = new Faceted(b, welded);
        this.was = was;
        this.is = is;
        corner = new int[template.place.length];
        to = new int[a.vertexCount()];
        back = new int[b.vertexCount()];
        Arrays.fill(corner, -1);
        Arrays.fill(to, -1);
        Arrays.fill(back, -1);
    }

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
        float[] was = MeshTopology.restPositions(template);
        float[] is = MeshTopology.restPositions(edited);
        VertexMatch match = new VertexMatch(a, was, b, is, welded);
        match.byConnectivity(beat);
        IntUnaryOperator placeA = welded ? a::weldedOf : v -> v;
        IntUnaryOperator placeB = welded ? b::weldedOf : v -> v;
        match.byNearness(placeA, placeB, beat);
        return match.vertices(a.corners(), placeA, b.corners(), placeB, new Seams(template, edited));
    }

    // ---- triangles that are the same

    private void byConnectivity(Runnable beat) {
        Map<Long, List<Integer>> alike = new HashMap<>();
        for (int f = 0; f < edited.count(); f++) {
            alike.computeIfAbsent(edited.signatureOf(f), k -> new ArrayList<>()).add(f);
        }
        for (int[] piece : pieces()) {
            beat.run();
            Trial best = null;
            for (Trial trial : likeliest(piece, alike)) {
                beat.run();
                trial.follow(Integer.MAX_VALUE);
                if (best == null || trial.compareTo(best) < 0) {
                    best = trial;
                }
            }
            if (best != null) {
                best.take();
            }
        }
    }

    /** The template's triangles by how they hang together across edges, the largest pieces first. */
    private List<int[]> pieces() {
        List<int[]> out = new ArrayList<>();
        BitSet seen = new BitSet();
        int[] queue = new int[template.count()];
        for (int f = 0; f < template.count(); f++) {
            if (seen.get(f)) {
                continue;
            }
            int end = 0;
            queue[end++] = f;
            seen.set(f);
            for (int at = 0; at < end; at++) {
                for (int c = queue[at] * 3; c < queue[at] * 3 + 3; c++) {
                    int other = template.across[c] < 0 ? -1 : template.across[c] / 3;
                    if (other >= 0 && !seen.get(other)) {
                        seen.set(other);
                        queue[end++] = other;
                    }
                }
            }
            out.add(Arrays.copyOf(queue, end));
        }
        out.sort(Comparator.comparingInt(p -> -p.length));
        return out;
    }

    private List<Trial> likeliest(int[] piece, Map<Long, List<Integer>> alike) {
        // Those with the fewest likenesses tell most; of all that have as few, some spread over the piece.
        int spread = Math.max(1, piece.length / (SEEDS * 8));
        List<Integer> seeds = new ArrayList<>();
        for (int i = 0; i < piece.length; i += spread) {
            if (alike.containsKey(template.signatureOf(piece[i]))) {
                seeds.add(piece[i]);
            }
        }
        seeds.sort(Comparator.comparingInt(
                f -> alike.getOrDefault(template.signatureOf(f), List.of()).size()));
        List<Trial> trials = new ArrayList<>();
        // Of a piece of a few triangles each tells as much as the others.
        int many = Math.min(Math.min(SEEDS, 1 + piece.length / SEEDS), seeds.size());
        for (int seed : seeds.subList(0, many)) {
            for (int f : nearest(seed, alike.getOrDefault(template.signatureOf(seed), List.of()))) {
                for (int turn = 0; turn < 3; turn++) {
                    Trial trial = new Trial();
                    if (trial.begins(seed * 3, f * 3 + turn)) {
                        trial.follow(AROUND);
                        trials.add(trial);
                    }
                }
            }
        }
        trials.sort(Comparator.naturalOrder());
        return trials.subList(0, Math.min(FOLLOWED, trials.size()));
    }

    /** The nearest that are not yet taken, without putting all in order: a field of equal blades has as many as blades, for each. */
    private List<Integer> nearest(int face, List<Integer> alike) {
        PriorityQueue<double[]> kept = new PriorityQueue<>(Comparator.comparingDouble(k -> -k[0]));
        for (int f : alike) {
            double apart = back[edited.place[f * 3]] < 0 ? apart(face, f) : Double.POSITIVE_INFINITY;
            if (kept.size() < LIKENESSES || apart < kept.element()[0]) {
                if (apart < Double.POSITIVE_INFINITY) {
                    kept.add(new double[] {apart, f});
                }
                if (kept.size() > LIKENESSES) {
                    kept.remove();
                }
            }
        }
        return kept.stream()
                .sorted(Comparator.comparingDouble(k -> k[0]))
                .map(k -> (int) k[1])
                .toList();
    }

    /** Square of the distance between the middles of two triangles, three times over. */
    private double apart(int face, int other) {
        double sum = 0;
        for (int i = 0; i < 3; i++) {
            double off = 0;
            for (int k = 0; k < 3; k++) {
                off += was[template.place[face * 3 + k] * 3 + i] - is[edited.place[other * 3 + k] * 3 + i];
            }
            sum += off * off;
        }
        return sum;
    }

    private double squared(int place, int other) {
        double sum = 0;
        for (int i = 0; i < 3; i++) {
            double off = was[place * 3 + i] - is[other * 3 + i];
            sum += off * off;
        }
        return sum;
    }

    /** What follows from one triangle being another. */
    private final class Trial implements Comparable<Trial> {
        private final BitSet faces = new BitSet();
        private final Map<Integer, Integer> places = new HashMap<>();
        private final Map<Integer, Integer> taken = new HashMap<>();
        /** Corners of the template and those that they are, one a triangle. */
        private int[] pairs = new int[64];

        private int end;
        private int followed;
        private double off;

        boolean begins(int a, int b) {
            int c = a;
            int d = b;
            for (int k = 0; k < 3; k++, c = Faceted.next(c), d = Faceted.next(d)) {
                if (template.signature[template.place[c]] != edited.signature[edited.place[d]]) {
                    return false;
                }
            }
            return put(a, b);
        }

        /** Takes a triangle for another, by a corner of each, where each of its places may be that one place and no other. */
        private boolean put(int a, int b) {
            int c = a;
            int d = b;
            for (int k = 0; k < 3; k++, c = Faceted.next(c), d = Faceted.next(d)) {
                int p = template.place[c];
                int q = edited.place[d];
                int there = places.getOrDefault(p, to[p]);
                int here = taken.getOrDefault(q, back[q]);
                boolean free = there < 0 && here < 0;
                if (!free && (there != q || here != p) || template.valence[p] != edited.valence[q]) {
                    return false;
                }
            }
            c = a;
            d = b;
            for (int k = 0; k < 3; k++, c = Faceted.next(c), d = Faceted.next(d)) {
                int p = template.place[c];
                if (places.putIfAbsent(p, edited.place[d]) == null) {
                    taken.put(edited.place[d], p);
                    off += squared(p, edited.place[d]);
                }
            }
            faces.set(a / 3);
            if (end == pairs.length) {
                pairs = Arrays.copyOf(pairs, end * 2);
            }
            pairs[end++] = a;
            pairs[end++] = b;
            return true;
        }

        /** Goes on over the edges, to so many triangles at most. */
        void follow(int most) {
            for (; followed < end && end / 2 < most; followed += 2) {
                int a = pairs[followed];
                int b = pairs[followed + 1];
                for (int k = 0; k < 3; k++, a = Faceted.next(a), b = Faceted.next(b)) {
                    int over = template.across[a];
                    int other = edited.across[b];
                    if (over >= 0 && other >= 0 && !faces.get(over / 3)) {
                        put(over, other);
                    }
                }
            }
        }

        /** More triangles count first, then nearness. */
        @Override
        public int compareTo(Trial o) {
            return end != o.end ? o.end - end : Double.compare(off / places.size(), o.off / o.places.size());
        }

        void take() {
            places.forEach((p, q) -> {
                to[p] = q;
                back[q] = p;
            });
            for (int i = 0; i < end; i += 2) {
                int a = pairs[i];
                int b = pairs[i + 1];
                for (int k = 0; k < 3; k++, a = Faceted.next(a), b = Faceted.next(b)) {
                    corner[a] = b;
                }
            }
        }
    }

    // ---- places that only nearness tells

    private void byNearness(IntUnaryOperator placeA, IntUnaryOperator placeB, Runnable beat) {
        List<Integer> left = free(to, placeA);
        if (left.isEmpty()) {
            return;
        }
        int[][] around = around(template);
        int[][] aroundEdited = around(edited);
        float[] normals = normals(template, was);
        float[] normalsEdited = normals(edited, is);
        for (boolean found = true; found && !left.isEmpty(); left = free(to, placeA)) {
            beat.run();
            found = false;
            List<Integer> others = free(back, placeB);
            float[] expected = new float[left.size() * 3];
            for (int i = 0; i < left.size(); i++) {
                expect(left.get(i), around, expected, i * 3);
            }
            float[] there = new float[others.size() * 3];
            for (int i = 0; i < others.size(); i++) {
                System.arraycopy(is, others.get(i) * 3, there, i * 3, 3);
            }
            if (others.isEmpty()) {
                return;
            }
            PointTree ours = new PointTree(expected);
            PointTree theirs = new PointTree(there);
            for (int i = 0; i < left.size(); i++) {
                int j = theirs.nearest(expected[i * 3], expected[i * 3 + 1], expected[i * 3 + 2]);
                int p = left.get(i);
                int q = j < 0 ? -1 : others.get(j);
                if (q >= 0
                        && ours.nearest(there[j * 3], there[j * 3 + 1], there[j * 3 + 2]) == i
                        && looksAlike(normals, p, normalsEdited, q)
                        && hasSameNeighbours(around[p], aroundEdited[q])
                        && isNear(p, q, expected, i * 3, around[p])) {
                    to[p] = q;
                    back[q] = p;
                    found = true;
                }
            }
        }
    }

    private static List<Integer> free(int[] known, IntUnaryOperator place) {
        List<Integer> out = new ArrayList<>();
        for (int v = 0; v < known.length; v++) {
            if (known[v] < 0 && place.applyAsInt(v) == v) {
                out.add(v);
            }
        }
        return out;
    }

    /** Where a place should be by how those around it were moved. */
    private void expect(int p, int[][] around, float[] out, int at) {
        double[] moved = new double[3];
        int many = 0;
        for (int n : around[p]) {
            if (to[n] >= 0) {
                many++;
                for (int i = 0; i < 3; i++) {
                    moved[i] += is[to[n] * 3 + i] - was[n * 3 + i];
                }
            }
        }
        for (int i = 0; i < 3; i++) {
            out[at + i] = (float) (was[p * 3 + i] + (many == 0 ? 0 : moved[i] / many));
        }
    }

    private boolean hasSameNeighbours(int[] around, int[] aroundEdited) {
        int known = 0;
        int same = 0;
        for (int n : around) {
            if (to[n] >= 0) {
                known++;
                int m = to[n];
                same += Arrays.stream(aroundEdited).anyMatch(e -> e == m) ? 1 : 0;
            }
        }
        return same * 2 >= known;
    }

    /** Nearer than half the way to what lies around it; at its very place where nothing does. */
    private boolean isNear(int p, int q, float[] expected, int at, int[] around) {
        double least = Double.POSITIVE_INFINITY;
        for (int n : around) {
            double square = 0;
            for (int i = 0; i < 3; i++) {
                double d = was[n * 3 + i] - was[p * 3 + i];
                square += d * d;
            }
            least = Math.min(least, square);
        }
        double off = 0;
        for (int i = 0; i < 3; i++) {
            double d = is[q * 3 + i] - expected[at + i];
            off += d * d;
        }
        return around.length == 0 ? off == 0 : off < least / 4;
    }

    private static boolean looksAlike(float[] normals, int p, float[] others, int q) {
        double dot = 0;
        double a = 0;
        double b = 0;
        for (int i = 0; i < 3; i++) {
            dot += normals[p * 3 + i] * others[q * 3 + i];
            a += normals[p * 3 + i] * normals[p * 3 + i];
            b += others[q * 3 + i] * others[q * 3 + i];
        }
        return a == 0 || b == 0 || dot >= SAME_WAY * Math.sqrt(a * b);
    }

    private static int[][] around(Faceted faceted) {
        Neighbours all = Neighbours.of(faceted.place, c -> c, faceted.valence.length);
        int[][] out = new int[faceted.valence.length][];
        for (int p = 0; p < out.length; p++) {
            out[p] = Arrays.copyOfRange(all.of(), all.starts()[p], all.starts()[p + 1]);
        }
        return out;
    }

    /** Of places, by the areas of what lies around them; not of length one. */
    private static float[] normals(Faceted faceted, float[] at) {
        float[] out = new float[faceted.valence.length * 3];
        for (int c = 0; c < faceted.place.length; c += 3) {
            int[] p = {faceted.place[c] * 3, faceted.place[c + 1] * 3, faceted.place[c + 2] * 3};
            for (int i = 0; i < 3; i++) {
                int j = (i + 1) % 3;
                int k = (i + 2) % 3;
                float n = (at[p[1] + j] - at[p[0] + j]) * (at[p[2] + k] - at[p[0] + k])
                        - (at[p[1] + k] - at[p[0] + k]) * (at[p[2] + j] - at[p[0] + j]);
                for (int corner : p) {
                    out[corner + i] += n;
                }
            }
        }
        return out;
    }

    // ---- from places to vertices

    private int[] vertices(
            int[] corners, IntUnaryOperator placeA, int[] cornersEdited, IntUnaryOperator placeB, Seams seams) {
        int[] out = new int[to.length];
        Arrays.fill(out, -1);
        for (int c = 0; c < corner.length; c++) {
            if (corner[c] >= 0) {
                int v = corners[c];
                int e = cornersEdited[corner[c]];
                out[v] = out[v] < 0 ? e : seams.nearer(v, out[v], e);
            }
        }
        Map<Integer, List<Integer>> at = new HashMap<>();
        for (int e = 0; e < back.length; e++) {
            at.computeIfAbsent(placeB.applyAsInt(e), k -> new ArrayList<>()).add(e);
        }
        BitSet used = new BitSet();
        Arrays.stream(out).filter(e -> e >= 0).forEach(used::set);
        for (int v = 0; v < out.length; v++) {
            int there = to[placeA.applyAsInt(v)];
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
