package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Pose;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * A mesh that is the same on two sides but for an affine map of all its points and the order of its joints: how far its vertices
 * part at most, found from what moves them alone.
 *
 * <p>A skinned vertex is a weighted sum of affine maps of one point, so two of them part by at most the sum of the weights
 * times the largest difference of any of these maps over the box that holds all points.
 */
final class Alike {
    /** What is left over of the map from one side's points to the other's is rounding up to this share of their size. */
    private static final double ROUNDING = 1e-6;

    private final Side a;
    private final Side b;
    private final MeshPairs.Pair pair;
    /** From the first side's points to the second's. */
    private final Matrix4d map;
    /** What is left over of it, in the second's unit. */
    private final double left;
    /** For each joint of the first its number on the second; -1 where no vertex follows it. */
    private final int[] joints;
    /** The largest of each coordinate, without its sign, and the largest sum of weights. */
    private final double[] extent = new double[3];

    private double weight = 1;
    /** Morphed points may leave the box: only what is the same to the last bit is known to be near. */
    private final boolean morphs;

    private Alike(Side a, Side b, MeshPairs.Pair pair, Matrix4d map, double left, int[] joints) {
        this.a = a;
        this.b = b;
        this.pair = pair;
        this.map = map;
        this.left = left;
        this.joints = joints;
        List<Primitive> primitives = a.asset.meshes().get(pair.a().mesh()).primitives();
        for (Primitive primitive : primitives) {
            float[] p = primitive.positions();
            for (int i = 0; i < p.length; i++) {
                extent[i % 3] = Math.max(extent[i % 3], Math.abs((double) p[i]));
            }
            Influences rows = primitive.influences();
            for (int v = 0; rows != null && v < primitive.vertexCount(); v++) {
                double sum = 0;
                for (int e = rows.offsets()[v]; e < rows.offsets()[v + 1]; e++) {
                    sum += Math.abs(rows.weights()[e]);
                }
                weight = Math.max(weight, sum);
            }
        }
        morphs = primitives.stream().anyMatch(q -> !q.targets().isEmpty());
    }

    /** Empty where they differ by more than that. Cost: two passes over the vertices. */
    static Optional<Alike> of(Side a, Side b, MeshPairs.Pair pair) {
        List<Primitive> p = a.asset.meshes().get(pair.a().mesh()).primitives();
        List<Primitive> q = b.asset.meshes().get(pair.b().mesh()).primitives();
        if (p.size() != q.size() || !Arrays.equals(pair.ofA(), pair.ofB())) {
            return Optional.empty();
        }
        boolean same = true;
        int[] joints = new int
                [pair.a().skin() < 0 ? 0 : a.asset.skins().get(pair.a().skin()).joints().length];
        Arrays.fill(joints, -1);
        for (int i = 0; i < p.size(); i++) {
            if (p.get(i).positions().length != q.get(i).positions().length
                    || !mapped(p.get(i).influences(), q.get(i).influences(), joints)) {
                return Optional.empty();
            }
            boolean drawn = p.get(i).targets().equals(q.get(i).targets());
            same &= Arrays.equals(p.get(i).positions(), q.get(i).positions());
            if (!drawn || !same && !p.get(i).targets().isEmpty()) {
                return Optional.empty();
            }
        }
        if (same) {
            return Optional.of(new Alike(a, b, pair, new Matrix4d(), 0, joints));
        }
        Matrix4d map = map(p, q);
        if (map == null) {
            return Optional.empty();
        }
        double left = left(p, q, map);
        return left >= 0 ? Optional.of(new Alike(a, b, pair, map, left, joints)) : Optional.empty();
    }

    /** Whether rows are the same but for the numbers of their joints, and which became which. */
    private static boolean mapped(@Nullable Influences one, @Nullable Influences other, int[] joints) {
        if (one == null || other == null) {
            return one == other;
        }
        if (!Arrays.equals(one.offsets(), other.offsets()) || !Arrays.equals(one.weights(), other.weights())) {
            return false;
        }
        for (int e = 0; e < one.joints().length; e++) {
            int joint = one.joints()[e];
            if (joint >= joints.length || joints[joint] >= 0 && joints[joint] != other.joints()[e]) {
                return false;
            }
            joints[joint] = other.joints()[e];
        }
        return true;
    }

    /** The affine map that takes points to others, by least squares; null where they lie in a plane. */
    private static @Nullable Matrix4d map(List<Primitive> p, List<Primitive> q) {
        Vector3d middle = new Vector3d();
        Vector3d there = new Vector3d();
        long count = 0;
        for (int i = 0; i < p.size(); i++) {
            for (int v = 0; v < p.get(i).vertexCount(); v++) {
                middle.add(at(p.get(i), v));
                there.add(at(q.get(i), v));
            }
            count += p.get(i).vertexCount();
        }
        middle.div(count);
        there.div(count);
        Matrix3d spread = new Matrix3d().zero();
        Matrix3d both = new Matrix3d().zero();
        for (int i = 0; i < p.size(); i++) {
            for (int v = 0; v < p.get(i).vertexCount(); v++) {
                Vector3d x = at(p.get(i), v).sub(middle);
                Vector3d y = at(q.get(i), v).sub(there);
                outer(spread, x, x);
                outer(both, y, x);
            }
        }
        double size = spread.m00 + spread.m11 + spread.m22;
        if (!(spread.determinant() > 1e-9 * size * size * size)) {
            return null;
        }
        Matrix3d turn = both.mul(spread.invert());
        return new Matrix4d().set(turn).setTranslation(there.sub(turn.transform(middle)));
    }

    private static void outer(Matrix3d sum, Vector3d column, Vector3d row) {
        for (int r = 0; r < 3; r++) {
            for (int c = 0; c < 3; c++) {
                sum.set(c, r, sum.get(c, r) + column.get(r) * row.get(c));
            }
        }
    }

    /** How far the map misses any point at most; not a number where that is more than rounding. */
    private static double left(List<Primitive> p, List<Primitive> q, Matrix4d map) {
        double most = 0;
        double size = 0;
        for (int i = 0; i < p.size(); i++) {
            for (int v = 0; v < p.get(i).vertexCount(); v++) {
                Vector3d y = at(q.get(i), v);
                double off = map.transformPosition(at(p.get(i), v)).distance(y);
                size = Math.max(size, y.absolute().get(y.maxComponent()));
                most = off > most || Double.isNaN(off) ? off : most;
            }
        }
        return most <= ROUNDING * size ? most : Double.NaN;
    }

    private static Vector3d at(Primitive p, int v) {
        return new Vector3d(p.positions()[3 * v], p.positions()[3 * v + 1], p.positions()[3 * v + 2]);
    }

    /**
     * An upper bound, in metres; 0 where all stands in the same place to the last bit, not a number or infinite where nothing
     * is known.
     */
    double most(Pose poseA, Pose poseB, Matrix4d[] worldA, Matrix4d[] worldB) {
        float[] one = a.deformer.movers(pair.a(), poseA, worldA, a.view);
        float[] other = b.deformer.movers(pair.b(), poseB, worldB, b.view);
        if (one == null || other == null) {
            return Double.NaN;
        }
        if (morphs) {
            return Arrays.equals(one, other) ? 0 : Double.POSITIVE_INFINITY;
        }
        double most = apart(one, 0, other, 0);
        for (int j = 0; j < joints.length; j++) {
            if (joints[j] >= 0) {
                most = Math.max(most, apart(one, 12 + 12 * j, other, 12 + 12 * joints[j]));
            }
        }
        return weight * most;
    }

    /** How far two maps part any point of the box, the second after {@link #map}. */
    private double apart(float[] one, int i, float[] other, int k) {
        if (left == 0 && Arrays.equals(one, i, i + 12, other, k, k + 12)) {
            return 0;
        }
        double far = 0;
        double longest = 0;
        for (int row = 0; row < 12; row += 4) {
            double x = other[k + row];
            double y = other[k + row + 1];
            double z = other[k + row + 2];
            longest += x * x + y * y + z * z;
            double apart = extent[0] * Math.abs(one[i + row] - (x * map.m00() + y * map.m01() + z * map.m02()))
                    + extent[1] * Math.abs(one[i + row + 1] - (x * map.m10() + y * map.m11() + z * map.m12()))
                    + extent[2] * Math.abs(one[i + row + 2] - (x * map.m20() + y * map.m21() + z * map.m22()))
                    + Math.abs(one[i + row + 3] - (x * map.m30() + y * map.m31() + z * map.m32() + other[k + row + 3]));
            far += apart * apart;
        }
        return Math.sqrt(far) + left * Math.sqrt(longest);
    }
}
