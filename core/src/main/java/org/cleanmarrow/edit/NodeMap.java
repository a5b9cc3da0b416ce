package org.cleanmarrow.edit;

import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Matrix3d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * A change of one node's transform that holds at every moment, so that it can be applied to the rest transform
 * and to every key alike: t' = M t + offset, q' = left q right, s' = P s. All but the offset are linear and so
 * serve the tangents of cubic splines as well.
 */
public record NodeMap(Matrix3d translation, Vector3d offset, Quaterniond left, Quaterniond right, Matrix3d scale) {

    static final NodeMap NONE =
            new NodeMap(new Matrix3d(), new Vector3d(), new Quaterniond(), new Quaterniond(), new Matrix3d());

    /** The quaternion of a matrix that is a rotation, a mirrored rotation, or such a one scaled. */
    public static Quaterniond properPart(Matrix3d m) {
        Matrix3d turn = new Matrix3d(m);
        double det = turn.determinant();
        turn.scale(Math.signum(det) / Math.cbrt(Math.abs(det)));
        return new Quaterniond().setFromNormalized(turn).normalize();
    }

    public Local apply(Local local) {
        Vector3d t = translation.transform(local.translationVector()).add(offset);
        Quaterniond q =
                new Quaterniond(left).mul(local.rotationQuaternion()).mul(right).normalize();
        // A quaternion and its negative turn alike; the plain one reads better.
        if (q.w < 0) {
            q.set(-q.x, -q.y, -q.z, -q.w);
        }
        Vector3d s = scale.transform(local.scaleVector());
        return Local.of(tidy(t), new Quaterniond(tidy(q.x), tidy(q.y), tidy(q.z), tidy(q.w)), tidy(s));
    }

    private static Vector3d tidy(Vector3d v) {
        return v.set(v.x + 0.0, v.y + 0.0, v.z + 0.0);
    }

    private static double tidy(double x) {
        return Math.abs(x) < 1e-12 ? 0 : x;
    }

    /** Keys of a channel after the change; weights are not touched by it. */
    public Sampler apply(Sampler sampler, Channel.Path path) {
        float[] values = sampler.values();
        float[] out = new float[values.length];
        int width = sampler.width();
        boolean cubic = sampler.interpolation() == Sampler.Interpolation.CUBICSPLINE;
        for (int at = 0, part = 0; at + width <= values.length; at += width, part++) {
            boolean tangent = cubic && part % 3 != 1;
            switch (path) {
                case TRANSLATION -> {
                    Vector3d t = translation.transform(new Vector3d(values[at], values[at + 1], values[at + 2]));
                    put(tangent ? t : t.add(offset), out, at);
                }
                case SCALE -> put(scale.transform(new Vector3d(values[at], values[at + 1], values[at + 2])), out, at);
                case ROTATION -> {
                    Quaterniond q = new Quaterniond(values[at], values[at + 1], values[at + 2], values[at + 3]);
                    if (sampler.storage() != Storage.FLOAT && !tangent && q.lengthSquared() > 0) {
                        // Whole numbers cannot hold a unit quaternion; as floats these would scale what they turn.
                        q.normalize();
                    }
                    q = new Quaterniond(left).mul(q).mul(right);
                    out[at] = (float) q.x;
                    out[at + 1] = (float) q.y;
                    out[at + 2] = (float) q.z;
                    out[at + 3] = (float) q.w;
                }
                default -> System.arraycopy(values, at, out, at, width);
            }
        }
        return sampler.withValues(out);
    }

    private static void put(Vector3d v, float[] out, int at) {
        out[at] = (float) v.x;
        out[at + 1] = (float) v.y;
        out[at + 2] = (float) v.z;
    }

    boolean isNone() {
        return equals(NONE);
    }
}
