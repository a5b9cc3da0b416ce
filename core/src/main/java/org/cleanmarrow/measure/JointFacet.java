package org.cleanmarrow.measure;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.text.Message;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** Joints of one name, those of one name in their order, and beside each a point that turns with it. */
final class JointFacet implements Facet {
    /** How far beside a joint the point lies that turns with it, as a share of the reach. */
    private static final double BESIDE = 0.05;

    private final Side a;
    private final Side b;
    private final double reach;
    private final List<Pair> pairs = new ArrayList<>();

    /**
     * @param backA what takes the first back to how it was turned at rest, in the common axes
     * @param backB the same of the second
     */
    private record Pair(int a, int b, Matrix4d backA, Matrix4d backB) {}

    JointFacet(Side a, Side b, double reach) {
        this.a = a;
        this.b = b;
        this.reach = reach;
        boolean[] joint = a.asset.jointFlags();
        boolean[] other = b.asset.jointFlags();
        Map<String, ArrayDeque<Integer>> byName = new HashMap<>();
        for (int n = 0; n < other.length; n++) {
            if (other[n]) {
                byName.computeIfAbsent(b.asset.nodes().get(n).name(), k -> new ArrayDeque<>())
                        .add(n);
            }
        }
        for (int n = 0; n < joint.length; n++) {
            ArrayDeque<Integer> twins =
                    joint[n] ? byName.get(a.asset.nodes().get(n).name()) : null;
            if (twins != null && !twins.isEmpty()) {
                int twin = twins.poll();
                pairs.add(new Pair(n, twin, back(a, n), back(b, twin)));
            }
        }
    }

    private static Matrix4d back(Side side, int node) {
        return new Matrix4d(side.view)
                .mul(side.rest[node])
                .setTranslation(0, 0, 0)
                .invert();
    }

    @Override
    public int size() {
        return pairs.size();
    }

    @Override
    public String name(int pair) {
        return a.asset.nodeRef(pairs.get(pair).a);
    }

    @Override
    public Message moved(int pair, double metres) {
        return Message.of("probe.moved.joint.any", name(pair), new Length(metres));
    }

    /** How far a joint, and points beside it that turned with it since rest, are from where the other side has them. */
    @Override
    public double apart(int number, Matrix4d[] worldA, Matrix4d[] worldB) {
        Pair pair = pairs.get(number);
        Matrix4d seenA = new Matrix4d(a.view).mul(worldA[pair.a]);
        Matrix4d seenB = new Matrix4d(b.view).mul(worldB[pair.b]);
        Vector3d p = seenA.getTranslation(new Vector3d());
        Vector3d q = seenB.getTranslation(new Vector3d());
        double most = distance(p, q);
        Matrix4d turnA = turned(seenA, pair.backA);
        Matrix4d turnB = turned(seenB, pair.backB);
        for (int axis = 0; axis < 3 && turnA != null && turnB != null; axis++) {
            turnA.getColumn(axis, p);
            turnB.getColumn(axis, q);
            most = Math.max(most, BESIDE * reach * distance(p, q));
        }
        return most;
    }

    /** The turn since rest; null where a scale of nothing leaves none. What was seen is used up. */
    private static @Nullable Matrix4d turned(Matrix4d seen, Matrix4d back) {
        Matrix4d m = seen.setTranslation(0, 0, 0).mul(back);
        boolean whole = m.isFinite() && Math.abs(m.determinant3x3()) > 1e-12;
        return whole ? m : null;
    }

    static double distance(Vector3d p, Vector3d q) {
        double d = p.distance(q);
        boolean same = Double.compare(p.x, q.x) == 0 && Double.compare(p.y, q.y) == 0 && Double.compare(p.z, q.z) == 0;
        return Double.isNaN(d) ? same ? 0 : Double.POSITIVE_INFINITY : d;
    }
}
