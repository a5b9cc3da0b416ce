package org.cleanmarrow.geometry;

import java.util.Arrays;
import java.util.function.IntPredicate;

/**
 * Nearest-point search by a tree of boxes, halved along their longest side (Bentley 1975, with boxes drawn tight).
 * Points far off or in one place cost no more than others: n log n to build, log n to ask.
 */
public final class PointTree {
    private static final int LEAF = 8;

    private final float[] points;
    /** Finite points, those of a node side by side. */
    private final int[] order;
    /** Tight box of every node: least and most of each axis. */
    private final float[] boxes;
    /** Lowest number of a point in every node. */
    private final int[] first;

    /** @param points 3 numbers each; those that are not finite are never found */
    public PointTree(float[] points) {
        this.points = points;
        int[] finite = new int[points.length / 3];
        int many = 0;
        for (int v = 0; v < finite.length; v++) {
            if (Float.isFinite(points[v * 3] + points[v * 3 + 1] + points[v * 3 + 2])) {
                finite[many++] = v;
            }
        }
        order = Arrays.copyOf(finite, many);
        int nodes = 1;
        for (int size = many; size > LEAF; size = (size + 1) / 2) {
            nodes = nodes * 2 + 1;
        }
        boxes = new float[nodes * 6];
        first = new int[nodes];
        if (many > 0) {
            build(0, 0, many);
        }
    }

    private void build(int node, int from, int to) {
        int least = Integer.MAX_VALUE;
        for (int d = 0; d < 3; d++) {
            float low = Float.POSITIVE_INFINITY;
            float high = Float.NEGATIVE_INFINITY;
            for (int i = from; i < to; i++) {
                float x = points[order[i] * 3 + d];
                low = Math.min(low, x);
                high = Math.max(high, x);
                least = Math.min(least, order[i]);
            }
            boxes[node * 6 + d] = low;
            boxes[node * 6 + 3 + d] = high;
        }
        first[node] = least;
        if (to - from <= LEAF) {
            return;
        }
        int axis = 0;
        for (int d = 1; d < 3; d++) {
            axis = span(node, d) > span(node, axis) ? d : axis;
        }
        int middle = middle(from, to);
        select(from, to, middle, axis);
        build(node * 2 + 1, from, middle);
        build(node * 2 + 2, middle, to);
    }

    private static int middle(int from, int to) {
        return from + (to - from + 1) / 2;
    }

    private double span(int node, int d) {
        return (double) boxes[node * 6 + 3 + d] - boxes[node * 6 + d];
    }

    /** Puts the smaller ones before {@code k}, the larger behind (Hoare's quickselect, equal ones on both sides). */
    private void select(int from, int to, int k, int axis) {
        int low = from;
        int high = to - 1;
        while (low < high) {
            float pivot = points[order[(low + high) >>> 1] * 3 + axis];
            int i = low;
            int j = high;
            while (i <= j) {
                while (points[order[i] * 3 + axis] < pivot) {
                    i++;
                }
                while (points[order[j] * 3 + axis] > pivot) {
                    j--;
                }
                if (i <= j) {
                    int swap = order[i];
                    order[i++] = order[j];
                    order[j--] = swap;
                }
            }
            if (k <= j) {
                high = j;
            } else if (k >= i) {
                low = i;
            } else {
                return;
            }
        }
    }

    /** Distance to the nearest point; 0 where there is none, infinite from a place that is not finite. */
    public double nearestDistance(float x, float y, float z) {
        if (order.length == 0) {
            return 0;
        }
        if (!Float.isFinite(x + y + z)) {
            return Double.POSITIVE_INFINITY;
        }
        return Math.sqrt(square(nearest(x, y, z), x, y, z));
    }

    /** Number of the nearest point, the lowest of equals; -1 where there is none. */
    public int nearest(float x, float y, float z) {
        return nearest(x, y, z, Double.POSITIVE_INFINITY, v -> true);
    }

    /**
     * Number of the nearest point that is allowed and not as far as {@code within}, the lowest of equals; -1 where there is
     * none. Points that are not allowed cost as much as others, so that a bound pays.
     */
    public int nearest(float x, float y, float z, double within, IntPredicate allowed) {
        Search search = new Search(x, y, z, within, allowed);
        if (order.length > 0 && Float.isFinite(x + y + z)) {
            search.visit(0, 0, order.length);
        }
        return search.best;
    }

    private double square(int v, double x, double y, double z) {
        double dx = points[v * 3] - x;
        double dy = points[v * 3 + 1] - y;
        double dz = points[v * 3 + 2] - z;
        return dx * dx + dy * dy + dz * dz;
    }

    private final class Search {
        private final double x;
        private final double y;
        private final double z;
        private int best = -1;
        private final IntPredicate allowed;
        private double least;

        Search(double x, double y, double z, double within, IntPredicate allowed) {
            this.x = x;
            this.y = y;
            this.z = z;
            this.allowed = allowed;
            least = within * within;
        }

        void visit(int node, int from, int to) {
            if (to - from <= LEAF) {
                for (int i = from; i < to; i++) {
                    double d = square(order[i], x, y, z);
                    if ((d < least || d == least && order[i] < best) && allowed.test(order[i])) {
                        least = d;
                        best = order[i];
                    }
                }
                return;
            }
            int middle = middle(from, to);
            int left = node * 2 + 1;
            int right = node * 2 + 2;
            boolean leftFirst = away(left) <= away(right);
            visitNear(leftFirst ? left : right, leftFirst ? from : middle, leftFirst ? middle : to);
            visitNear(leftFirst ? right : left, leftFirst ? middle : from, leftFirst ? to : middle);
        }

        private void visitNear(int node, int from, int to) {
            double away = away(node);
            if (away < least || away == least && first[node] < best) {
                visit(node, from, to);
            }
        }

        /** Square of the distance to the box of a node. */
        private double away(int node) {
            double dx = outside(x, boxes[node * 6], boxes[node * 6 + 3]);
            double dy = outside(y, boxes[node * 6 + 1], boxes[node * 6 + 4]);
            double dz = outside(z, boxes[node * 6 + 2], boxes[node * 6 + 5]);
            return dx * dx + dy * dy + dz * dz;
        }

        private static double outside(double x, double low, double high) {
            return x < low ? low - x : x > high ? x - high : 0;
        }
    }
}
