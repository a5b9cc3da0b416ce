package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Pose;
import org.joml.Matrix4d;

/**
 * A mesh that is the same arrays on two sides: how far its vertices part at most, found from what moves them alone.
 *
 * <p>A skinned vertex is a weighted sum of affine maps of one point, so two of them part by at most the sum of the weights
 * times the largest difference of any of these maps over the box that holds all points.
 */
final class Alike {
    private final Side a;
    private final Side b;
    private final MeshPairs.Pair pair;
    /** The largest of each coordinate, without its sign, and the largest sum of weights. */
    private final double[] extent = new double[3];

    private double weight = 1;
    /** Morphed points may leave the box: only what is the same to the last bit is known to be near. */
    private final boolean morphs;

    Alike(Side a, Side b, MeshPairs.Pair pair) {
        this.a = a;
        this.b = b;
        this.pair = pair;
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

    /**
     * An upper bound, in metres; 0 where all stands in the same place to the last bit, not a number or infinite where nothing
     * is known.
     */
    double most(Pose poseA, Pose poseB, Matrix4d[] worldA, Matrix4d[] worldB) {
        float[] one = a.deformer.movers(pair.a(), poseA, worldA, a.view);
        float[] other = b.deformer.movers(pair.b(), poseB, worldB, b.view);
        if (one == null || other == null || one.length != other.length) {
            return Double.NaN;
        }
        if (morphs) {
            return Arrays.equals(one, other) ? 0 : Double.POSITIVE_INFINITY;
        }
        double most = 0;
        for (int m = 0; m + 12 <= one.length; m += 12) {
            double far = 0;
            for (int row = m; row < m + 12; row += 4) {
                double apart = 0;
                for (int k = row; k < row + 4; k++) {
                    if (Float.floatToIntBits(one[k]) != Float.floatToIntBits(other[k])) {
                        apart += Math.abs((double) one[k] - other[k]) * (k - row < 3 ? extent[k - row] : 1);
                    }
                }
                far += apart * apart;
            }
            most = Math.max(most, weight * Math.sqrt(far));
        }
        return most;
    }
}
