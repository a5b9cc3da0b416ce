package org.cleanmarrow.linear;

import java.util.Arrays;

/**
 * An order of elimination that keeps the factor of a sparse symmetric matrix sparse: nested dissection (George 1973) by
 * levels of a breadth-first search from a far node (Gibbs, Poole and Stockmeyer 1976). A set of nodes is cut by its middle
 * level; the halves come first, each ordered alike, and the cut last.
 */
final class NestedDissection {
    private static final int SMALL = 48;

    private final int[] starts;
    private final int[] neighbours;
    private final int[] order;
    private final int[] part;
    private final int[] level;
    private final int[] queue;
    private int ordered;
    private int parts;

    private NestedDissection(int[] starts, int[] neighbours) {
        this.starts = starts;
        this.neighbours = neighbours;
        int n = starts.length - 1;
        order = new int[n];
        part = new int[n];
        level = new int[n];
        queue = new int[n];
    }

    /**
     * @param starts     where each node's neighbours begin, one more than there are nodes
     * @param neighbours symmetric
     * @return the nodes in the order of elimination
     */
    static int[] order(int[] starts, int[] neighbours) {
        NestedDissection made = new NestedDissection(starts, neighbours);
        int n = starts.length - 1;
        int[] all = new int[n];
        Arrays.setAll(all, i -> i);
        made.cut(all);
        return made.order;
    }

    /** Orders a set of nodes with a stack of its own: chains of many thousand nodes would overflow that of the thread. */
    private void cut(int[] all) {
        java.util.ArrayDeque<int[]> stack = new java.util.ArrayDeque<>();
        // Placed from the back: the cut of a set goes behind both halves.
        ordered = order.length;
        stack.push(all);
        while (!stack.isEmpty()) {
            int[] nodes = stack.pop();
            if (nodes.length <= SMALL) {
                place(nodes);
                continue;
            }
            int own = ++parts;
            for (int v : nodes) {
                part[v] = own;
            }
            int reached = search(nodes[0], own);
            if (reached < nodes.length) {
                split(nodes, reached, stack);
                continue;
            }
            search(queue[reached - 1], own);
            search(queue[reached - 1], own);
            int deepest = level[queue[reached - 1]];
            if (deepest < 2) {
                place(nodes);
                continue;
            }
            int middle = level[queue[reached / 2]];
            middle = Math.clamp(middle, 1, deepest - 1);
            int low = 0;
            while (level[queue[low]] < middle) {
                low++;
            }
            int high = low;
            while (high < reached && level[queue[high]] == middle) {
                high++;
            }
            place(Arrays.copyOfRange(queue, low, high));
            stack.push(Arrays.copyOfRange(queue, 0, low));
            stack.push(Arrays.copyOfRange(queue, high, reached));
        }
    }

    private void place(int[] nodes) {
        for (int i = nodes.length - 1; i >= 0; i--) {
            order[--ordered] = nodes[i];
            part[nodes[i]] = 0;
        }
    }

    /** What one search reached, and the rest. */
    private void split(int[] nodes, int reached, java.util.ArrayDeque<int[]> stack) {
        stack.push(Arrays.copyOf(queue, reached));
        int own = part[nodes[0]];
        int[] rest = new int[nodes.length - reached];
        int at = 0;
        for (int i = 0; i < reached; i++) {
            part[queue[i]] = -1;
        }
        for (int v : nodes) {
            if (part[v] == own) {
                rest[at++] = v;
            }
        }
        stack.push(rest);
    }

    /** Fills {@link #queue} and {@link #level} from a node within a part; gives how many were reached. */
    private int search(int from, int own) {
        int seen = own | 1 << 30;
        int end = 0;
        queue[end++] = from;
        level[from] = 0;
        part[from] = seen;
        for (int at = 0; at < end; at++) {
            int v = queue[at];
            for (int e = starts[v]; e < starts[v + 1]; e++) {
                int w = neighbours[e];
                if (part[w] == own) {
                    part[w] = seen;
                    level[w] = level[v] + 1;
                    queue[end++] = w;
                }
            }
        }
        for (int i = 0; i < end; i++) {
            part[queue[i]] = own;
        }
        return end;
    }
}
