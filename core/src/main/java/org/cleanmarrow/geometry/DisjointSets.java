package org.cleanmarrow.geometry;

import java.util.Arrays;

/**
 * Sets that numbered things fall into as they are joined (Galler and Fischer 1964, "An improved equivalence algorithm"), each known by
 * its lowest number. Joining and asking take next to constant time.
 */
public final class DisjointSets {
    private final int[] up;

    /** As many things, each alone. */
    public DisjointSets(int size) {
        up = new int[size];
        Arrays.setAll(up, i -> i);
    }

    public void join(int a, int b) {
        int x = root(a);
        int y = root(b);
        up[Math.max(x, y)] = Math.min(x, y);
    }

    /** The lowest number of a thing's set. */
    public int root(int thing) {
        int x = thing;
        while (up[x] != x) {
            up[x] = up[up[x]];
            x = up[x];
        }
        return x;
    }

    /** How many sets there are. */
    public int count() {
        int many = 0;
        for (int x = 0; x < up.length; x++) {
            many += up[x] == x ? 1 : 0;
        }
        return many;
    }

    /** The number of each thing's set, counted from 0 in the order of their lowest numbers. */
    public int[] numbered() {
        int[] out = new int[up.length];
        int next = 0;
        for (int x = 0; x < up.length; x++) {
            // A set's root is its lowest, which has its number already.
            int root = root(x);
            out[x] = root == x ? next++ : out[root];
        }
        return out;
    }
}
