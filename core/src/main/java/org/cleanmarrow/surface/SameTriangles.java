package org.cleanmarrow.surface;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;

/**
 * Pairs places by connectivity: from one triangle that is known, its neighbours are known, and theirs. The first is found by what
 * lies around its corners; where several look alike, as on a symmetric mesh, that counts whose surroundings lie nearest.
 */
final class SameTriangles extends PlaceSearch {
    /** Triangles of a connected piece that are tried as its first. */
    private static final int SEEDS = 8;
    /** Likenesses of each that are tried, the nearest. */
    private static final int LIKENESSES = 64;
    /** Triangles around one by which likenesses are told apart. */
    private static final int AROUND = 300;
    /** Likenesses that are followed to their end. */
    private static final int FOLLOWED = 4;

    SameTriangles(PlacePairs known) {
        super(known);
    }

    void find(Runnable beat) {
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
            places.forEach(known::pair);
            for (int i = 0; i < end; i += 2) {
                int a = pairs[i];
                int b = pairs[i + 1];
                for (int k = 0; k < 3; k++, a = Faceted.next(a), b = Faceted.next(b)) {
                    known.corner()[a] = b;
                }
            }
        }
    }
}
