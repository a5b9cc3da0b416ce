package org.cleanmarrow.surface;

import java.util.Arrays;

/**
 * Triangles of a mesh by what lies across each of their edges, on places: where those are positions, seams do not cut it. A corner stands for
 * the edge from it to the next of its triangle. Edges of more than two triangles, or of two that turn against each other, lead
 * nowhere.
 */
final class Faceted {
    /** Place of every corner. */
    final int[] place;
    /** The corner of the triangle across whose edge runs the other way; -1 where none does. */
    final int[] across;
    /** Corners at every place. */
    final int[] valence;
    /** What lies around every place, up to {@value #RINGS} rings: alike where that is alike, whatever its vertices are called. */
    final long[] signature;

    private static final int RINGS = 3;

    /** @param welded whether what lies at one position is one place; otherwise every vertex is one */
    Faceted(MeshTopology topology, boolean welded) {
        int[] corners = topology.corners();
        place = new int[corners.length];
        for (int c = 0; c < corners.length; c++) {
            place[c] = welded ? topology.weldedOf(corners[c]) : corners[c];
        }
        across = across();
        valence = new int[topology.vertexCount()];
        for (int p : place) {
            valence[p]++;
        }
        signature = signatures();
    }

    static int next(int corner) {
        return corner % 3 == 2 ? corner - 2 : corner + 1;
    }

    static int previous(int corner) {
        return corner % 3 == 0 ? corner + 2 : corner - 1;
    }

    int count() {
        return place.length / 3;
    }

    private int[] across() {
        int size = Integer.highestOneBit(Math.max(8, place.length * 2)) * 2;
        int[] table = new int[size];
        Arrays.fill(table, -1);
        boolean[] twice = new boolean[place.length];
        for (int c = 0; c < place.length; c++) {
            int slot = slot(table, place[c], place[next(c)]);
            if (table[slot] >= 0) {
                twice[table[slot]] = true;
                twice[c] = true;
            } else {
                table[slot] = c;
            }
        }
        int[] out = new int[place.length];
        for (int c = 0; c < place.length; c++) {
            int other = table[slot(table, place[next(c)], place[c])];
            out[c] = other < 0 || other == c || twice[c] || twice[other] ? -1 : other;
        }
        return out;
    }

    /** Where the edge from one place to another stands in a table, or would stand. */
    private int slot(int[] table, int from, int to) {
        int slot = (int) (mixed(((long) from << 32) | to) >>> 33) & (table.length - 1);
        while (table[slot] >= 0 && (place[table[slot]] != from || place[next(table[slot])] != to)) {
            slot = (slot + 1) & (table.length - 1);
        }
        return slot;
    }

    private long[] signatures() {
        long[] now = new long[valence.length];
        int[] open = new int[valence.length];
        for (int c = 0; c < place.length; c++) {
            if (across[c] < 0) {
                open[place[c]]++;
                open[place[next(c)]]++;
            }
        }
        for (int p = 0; p < now.length; p++) {
            now[p] = mixed(valence[p] * 64L + Math.min(63, open[p]));
        }
        for (int ring = 0; ring < RINGS; ring++) {
            // A sum does not mind where around a place one begins.
            long[] sum = new long[now.length];
            for (int c = 0; c < place.length; c++) {
                sum[place[c]] += mixed(now[place[next(c)]] * 31 + now[place[previous(c)]]);
            }
            for (int p = 0; p < now.length; p++) {
                sum[p] = mixed(now[p] * 31 + sum[p]);
            }
            now = sum;
        }
        return now;
    }

    /** The finaliser of SplitMix64 (Steele, Lea, Flood, OOPSLA 2014). */
    private static long mixed(long x) {
        long z = (x ^ (x >>> 30)) * 0xBF58476D1CE4E5B9L;
        z = (z ^ (z >>> 27)) * 0x94D049BB133111EBL;
        return z ^ (z >>> 31);
    }

    /** Alike for triangles whose corners have the same signatures, wherever one begins. */
    long signatureOf(int face) {
        return mixed(signature[place[face * 3]] + signature[place[face * 3 + 1]] + signature[place[face * 3 + 2]]);
    }
}
