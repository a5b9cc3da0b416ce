package org.cleanmarrow.caches;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.geometry.PointTree;
import org.joml.Matrix3d;
import org.joml.Vector3d;

/**
 * Which vertex of a cache is which of its mesh, where a simulation gave them back in another order, with seams welded or split: the
 * nearest in a frame that lies as the mesh does at rest, whatever unit and axes it is in. Both are brought to one size by the boxes
 * around them, and all 48 ways to lay axes on axes are tried.
 *
 * @param order for each vertex of the mesh the cache's
 * @param off   how far off they lie in the mean, by the size of the mesh
 * @param worst the farthest
 * @param asItIs the mean in the order that it came in; not a number where there are not as many
 */
public record CacheOrder(int[] order, double off, double worst, double asItIs) {
    /** Vertices by which ways of laying it are told apart. */
    private static final int SAMPLES = 400;

    /** A later way has to be better by so much: what is like its own mirror image is not mirrored. */
    private static final double CLEARLY = 0.8;

    private static final Matrix3d AS_IT_IS = new Matrix3d();

    /**
     * The best match; empty where either has no extent.
     *
     * @param rest  the mesh, 3 numbers a vertex
     * @param frame the cache, 3 numbers a vertex
     */
    public static Optional<CacheOrder> of(float[] rest, float[] frame) {
        Box of = box(rest);
        Box came = box(frame);
        if (!(of.diagonal() > 0) || !(came.diagonal() > 0)) {
            return Optional.empty();
        }
        float[] there = new float[frame.length];
        Vector3d p = new Vector3d();
        for (int v = 0; v < frame.length / 3; v++) {
            laid(frame, v, came, AS_IT_IS, p);
            there[3 * v] = (float) p.x;
            there[3 * v + 1] = (float) p.y;
            there[3 * v + 2] = (float) p.z;
        }
        PointTree tree = new PointTree(there);
        Matrix3d best = new Matrix3d();
        double least = Double.POSITIVE_INFINITY;
        int step = Math.max(1, rest.length / 3 / SAMPLES);
        for (Matrix3d turn : turns()) {
            double sum = 0;
            for (int v = 0; v < rest.length / 3; v += step) {
                laid(rest, v, of, turn, p);
                sum += tree.nearestDistance((float) p.x, (float) p.y, (float) p.z);
            }
            if (sum < least * CLEARLY) {
                least = sum;
                best = turn;
            }
        }
        int[] order = new int[rest.length / 3];
        double sum = 0;
        double worst = 0;
        double same = rest.length == frame.length ? 0 : Double.NaN;
        for (int v = 0; v < order.length; v++) {
            laid(rest, v, of, best, p);
            order[v] = tree.nearest((float) p.x, (float) p.y, (float) p.z);
            double off = distance(p, there, order[v]);
            sum += off;
            worst = Math.max(worst, off);
            same += rest.length == frame.length ? distance(p, there, v) : 0;
        }
        return Optional.of(new CacheOrder(order, sum / order.length, worst, same / order.length));
    }

    /** Whether vertices lie where those of the same numbers do, in some axes and unit; by a few of them. */
    public static boolean isKept(float[] rest, float[] frame, double most) {
        Box of = box(rest);
        Box came = box(frame);
        if (rest.length != frame.length || !(of.diagonal() > 0) || !(came.diagonal() > 0)) {
            return false;
        }
        int step = Math.max(1, rest.length / 3 / SAMPLES);
        Vector3d p = new Vector3d();
        Vector3d q = new Vector3d();
        for (Matrix3d turn : turns()) {
            double sum = 0;
            int many = 0;
            for (int v = 0; v < rest.length / 3; v += step) {
                laid(rest, v, of, turn, p);
                laid(frame, v, came, AS_IT_IS, q);
                sum += p.distance(q);
                many++;
            }
            if (sum <= most * many) {
                return true;
            }
        }
        return false;
    }

    private static Box box(float[] points) {
        Box out = Box.empty();
        out.grow(points);
        return out;
    }

    /** A place as seen in the box around all, its middle the origin and its diagonal one, turned. */
    private static void laid(float[] points, int v, Box of, Matrix3d turn, Vector3d p) {
        turn.transform(p.set(points[3 * v], points[3 * v + 1], points[3 * v + 2])
                .sub(of.centre())
                .div(of.diagonal()));
    }

    private static double distance(Vector3d p, float[] points, int v) {
        return p.distance(points[3 * v], points[3 * v + 1], points[3 * v + 2]);
    }

    /** As they are first, then turned, then mirrored. */
    private static List<Matrix3d> turns() {
        List<Matrix3d> out = new ArrayList<>();
        for (int i = 0; i < 48; i++) {
            int a = i / 16;
            int b = (a + 1 + (i >> 3 & 1)) % 3;
            int c = 3 - a - b;
            Matrix3d one = new Matrix3d().zero();
            one.set(0, a, (i & 1) == 0 ? 1 : -1);
            one.set(1, b, (i & 2) == 0 ? 1 : -1);
            one.set(2, c, (i & 4) == 0 ? 1 : -1);
            out.add(one);
        }
        out.sort((x, y) -> Double.compare(rank(x), rank(y)));
        return out;
    }

    private static double rank(Matrix3d turn) {
        double trace = turn.m00 + turn.m11 + turn.m22;
        return (turn.determinant() > 0 ? 0 : 10) - trace;
    }

    /** Whether every vertex has its own place, close by. @param most mean distance by size */
    public boolean fits(double most) {
        return off <= most && worst <= 10 * most;
    }
}
