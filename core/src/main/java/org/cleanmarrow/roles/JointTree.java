package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/** The joints of an asset alone, as they hang below each other and stand at rest. Plain groups between them are passed over. */
final class JointTree {
    /** Lengths that differ by less than this share are the same on both sides of a body. */
    private static final double ALIKE = 0.12;

    final Asset asset;
    final Vector3d[] at;
    /** Nearest joint above each joint, -1 at the top and for what is no joint. */
    final int[] parent;

    final List<List<Integer>> children = new ArrayList<>();
    final List<Integer> joints = new ArrayList<>();
    final int[] depth;
    private final double[] reach;
    private final int[] leaves;

    /**
     * Two chains of one make that begin at one joint.
     *
     * @param branch joint they hang on
     * @param one    joints of the first from its start to its end, along the longest way
     * @param other  the same of the second
     * @param length of either, from its first joint on
     */
    record Pair(int branch, List<Integer> one, List<Integer> other, double length) {}

    JointTree(Asset asset) {
        this.asset = asset;
        boolean[] joint = asset.jointFlags();
        int[] parents = asset.parents();
        Matrix4d[] world = new Rig(asset).rest().world();
        int count = joint.length;
        at = new Vector3d[count];
        parent = new int[count];
        depth = new int[count];
        reach = new double[count];
        leaves = new int[count];
        for (int n = 0; n < count; n++) {
            at[n] = world[n].getTranslation(new Vector3d());
            children.add(new ArrayList<>());
            parent[n] = -1;
        }
        for (int n : asset.topDown()) {
            if (!joint[n]) {
                continue;
            }
            int up = parents[n];
            while (up >= 0 && !joint[up]) {
                up = parents[up];
            }
            parent[n] = up;
            depth[n] = up < 0 ? 0 : depth[up] + 1;
            joints.add(n);
            if (up >= 0) {
                children.get(up).add(n);
            }
        }
        for (int i = joints.size() - 1; i >= 0; i--) {
            int n = joints.get(i);
            leaves[n] = children.get(n).isEmpty()
                    ? 1
                    : children.get(n).stream().mapToInt(c -> leaves[c]).sum();
            for (int c : children.get(n)) {
                reach[n] = Math.max(reach[n], at[n].distance(at[c]) + reach[c]);
            }
        }
    }

    /** How many chain ends hang below a joint. */
    int leaves(int n) {
        return leaves[n];
    }

    /** The joint and those along the longest way below it. */
    List<Integer> chain(int from) {
        List<Integer> out = new ArrayList<>(List.of(from));
        int n = from;
        while (!children.get(n).isEmpty()) {
            int here = n;
            n = children.get(n).stream()
                    .max(Comparator.comparingDouble(c -> at[here].distance(at[c]) + reach[c]))
                    .orElseThrow();
            out.add(n);
        }
        return out;
    }

    double length(List<Integer> chain) {
        double sum = 0;
        for (int i = 1; i < chain.size(); i++) {
            sum += at[chain.get(i)].distance(at[chain.get(i - 1)]);
        }
        return sum;
    }

    /** All pairs of like chains of at least three joints, the longest first. */
    List<Pair> pairs() {
        List<Pair> out = new ArrayList<>();
        for (int b : joints) {
            List<Integer> kids = children.get(b);
            for (int i = 0; i < kids.size() && kids.size() <= 24; i++) {
                for (int k = 0; k < i; k++) {
                    List<Integer> one = chain(kids.get(k));
                    List<Integer> other = chain(kids.get(i));
                    if (one.size() >= 3 && alike(b, one, other)) {
                        out.add(new Pair(b, one, other, length(one)));
                    }
                }
            }
        }
        out.sort(Comparator.comparingDouble(Pair::length).reversed());
        return out;
    }

    private boolean alike(int branch, List<Integer> one, List<Integer> other) {
        double whole = Math.max(length(one), length(other));
        if (one.size() != other.size() || !(whole > 0)) {
            return false;
        }
        double apart = at[one.getFirst()].distance(at[other.getFirst()]);
        double near = ALIKE * whole;
        if (!(apart > 1e-6 * whole)
                || Math.abs(at[branch].distance(at[one.getFirst()]) - at[branch].distance(at[other.getFirst()]))
                        > near) {
            return false;
        }
        for (int i = 1; i < one.size(); i++) {
            double a = at[one.get(i)].distance(at[one.get(i - 1)]);
            double b = at[other.get(i)].distance(at[other.get(i - 1)]);
            if (Math.abs(a - b) > ALIKE * Math.max(Math.max(a, b), 0.1 * whole)) {
                return false;
            }
        }
        return true;
    }

    boolean isBelow(int node, int above) {
        int up = node;
        while (up >= 0 && up != above) {
            up = parent[up];
        }
        return up == above && above >= 0;
    }

    /** Joints from one to another that one hangs below, both named; empty where neither does. */
    List<Integer> path(int from, int to) {
        List<Integer> out = new ArrayList<>();
        int low = isBelow(to, from) ? to : from;
        int high = low == to ? from : to;
        if (!isBelow(low, high)) {
            return List.of();
        }
        for (int up = low; up != high; up = parent[up]) {
            out.add(up);
        }
        out.add(high);
        return out.getFirst() == from ? out : out.reversed();
    }

    String name(int node) {
        return asset.nodes().get(node).name();
    }

    /** Whether a joint is in one of two chains or below it. */
    boolean isIn(int node, Pair pair) {
        return isBelow(node, pair.one().getFirst())
                || isBelow(node, pair.other().getFirst());
    }

    /** Whether the first of two chains begins farther along a direction than the other. */
    boolean isLeft(Pair pair, Vector3d left) {
        return new Vector3d(at[pair.one().getFirst()])
                        .sub(at[pair.other().getFirst()])
                        .dot(left)
                >= 0;
    }

    /** Midway between joints of two chains. */
    Vector3d middle(Pair pair, int index) {
        return new Vector3d(at[pair.one().get(index)])
                .add(at[pair.other().get(index)])
                .mul(0.5);
    }

    /** From the lowest to the highest joint along a direction. */
    double extent(Vector3d up) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (int n : joints) {
            double h = at[n].dot(up);
            low = Math.min(low, h);
            high = Math.max(high, h);
        }
        return high - low;
    }
}
