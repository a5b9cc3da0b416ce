package org.cleanmarrow.pose;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;
import java.util.function.DoubleFunction;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Makes keys of a way that is known at every moment: at the key times of whatever moves it, and as many between them as
 * straight lines and evenly turned rotations need to follow it.
 */
public final class Baker {
    private static final int DEEPEST = 12;
    private static final int MOST_KEYS = 200_000;

    private Baker() {}

    /**
     * Key times for a way.
     *
     * @param movers    channels whose keys it comes from
     * @param way       transform at a time
     * @param tolerance how far what is between keys may be off: lengths in the way's unit, rotations in radians x reach
     * @param reach     length that a rotation acts on
     */
    public static float[] times(Collection<Channel> movers, DoubleFunction<Local> way, double tolerance, double reach) {
        TreeSet<Float> keys = new TreeSet<>();
        boolean steps = stepped(movers);
        for (Channel channel : movers) {
            boolean step = !steps && channel.sampler().interpolation() == Sampler.Interpolation.STEP;
            for (float t : channel.sampler().times()) {
                keys.add(t);
                if (step && t > channel.sampler().times()[0]) {
                    // A step beside what goes on evenly: held until just before it.
                    keys.add(Math.nextDown(t));
                }
            }
        }
        if (!steps) {
            straighten(keys, way, tolerance, reach);
        }
        float[] out = new float[keys.size()];
        int at = 0;
        for (float t : keys) {
            out[at++] = t;
        }
        return out;
    }

    /**
     * Adds as many times between keys as straight lines and evenly turned rotations need to follow a way.
     *
     * @param tolerance how far what is between keys may be off: lengths in the way's unit, rotations in radians x reach
     */
    public static void straighten(TreeSet<Float> keys, DoubleFunction<Local> way, double tolerance, double reach) {
        Float[] plain = keys.toArray(Float[]::new);
        if (plain.length == 0) {
            return;
        }
        Local a = way.apply(plain[0]);
        for (int k = 1; k < plain.length; k++) {
            Local b = way.apply(plain[k]);
            straighten(plain[k - 1], a, plain[k], b, way, tolerance, reach, keys, DEEPEST);
            a = b;
        }
    }

    /** True where nothing but steps moves. */
    public static boolean stepped(Collection<Channel> movers) {
        return movers.stream().allMatch(c -> c.sampler().interpolation() == Sampler.Interpolation.STEP);
    }

    private static void straighten(
            float from,
            Local a,
            float to,
            Local b,
            DoubleFunction<Local> way,
            double tolerance,
            double reach,
            TreeSet<Float> keys,
            int deeper) {
        float middle = (from + to) / 2;
        if (deeper == 0 || middle <= from || middle >= to || keys.size() > MOST_KEYS) {
            return;
        }
        Local m = way.apply(middle);
        // In several places, because a bend may pass the middle of the line by chance.
        boolean bent = off(a, b, (middle - from) / (to - from), m, reach) > tolerance;
        for (double share = 0.25; share < 1; share += 0.5) {
            bent = bent || off(a, b, share, way.apply(from + (to - from) * share), reach) > tolerance;
        }
        if (bent) {
            keys.add(middle);
            straighten(from, a, middle, m, way, tolerance, reach, keys, deeper - 1);
            straighten(middle, m, to, b, way, tolerance, reach, keys, deeper - 1);
        }
    }

    private static double off(Local a, Local b, double share, Local is, double reach) {
        double shift = a.translationVector().lerp(b.translationVector(), share).distance(is.translationVector());
        // By the difference's axis part, because a cosine near one says nothing of small angles in float32.
        Quaterniond between = shorter(a.rotationQuaternion(), b.rotationQuaternion())
                .slerp(b.rotationQuaternion(), share)
                .conjugate()
                .mul(is.rotationQuaternion());
        double turn = 2 * Math.sqrt(between.x * between.x + between.y * between.y + between.z * between.z);
        double size = a.scaleVector().lerp(b.scaleVector(), share).distance(is.scaleVector());
        return Math.max(shift, Math.max(turn, size) * reach);
    }

    private static Quaterniond shorter(Quaterniond a, Quaterniond b) {
        return a.dot(b) < 0 ? a.set(-a.x, -a.y, -a.z, -a.w) : a;
    }

    /** Translation, rotation and scale of a matrix; where it shears, what is nearest. */
    public static Local parts(Matrix4d m) {
        Vector3d x = m.getColumn(0, new Vector3d());
        Vector3d y = m.getColumn(1, new Vector3d());
        Vector3d z = m.getColumn(2, new Vector3d());
        Vector3d size = new Vector3d(x.length(), y.length(), z.length());
        if (m.determinant3x3() < 0) {
            size.x = -size.x;
        }
        Matrix3d turn = new Matrix3d(x.div(size.x), y.div(size.y), z.div(size.z));
        Quaterniond q = new Quaterniond().setFromNormalized(turn).normalize();
        for (int i = 0; i < 3; i++) {
            double whole = Math.rint(size.get(i));
            size.setComponent(i, Math.abs(size.get(i) - whole) < 1e-6 ? whole : size.get(i));
        }
        return Local.of(m.getTranslation(new Vector3d()), q.isFinite() ? q : new Quaterniond(), size);
    }

    /** Largest cosine between two axes of a matrix: how much it shears, 0 for not at all. */
    public static double shear(Matrix4d m) {
        Vector3d x = m.getColumn(0, new Vector3d());
        Vector3d y = m.getColumn(1, new Vector3d());
        Vector3d z = m.getColumn(2, new Vector3d());
        double xy = Math.abs(x.dot(y)) / (x.length() * y.length());
        double yz = Math.abs(y.dot(z)) / (y.length() * z.length());
        double xz = Math.abs(x.dot(z)) / (x.length() * z.length());
        return Math.max(xy, Math.max(yz, xz));
    }

    /**
     * Channels of a node for a way: translation and rotation, and scale where it differs from the node's rest.
     *
     * @param rest the node's own transform, which holds where there is no channel
     */
    public static List<Channel> channels(
            int node, float[] times, boolean stepped, DoubleFunction<Local> way, Local rest) {
        float[] places = new float[times.length * 3];
        float[] turns = new float[times.length * 4];
        float[] sizes = new float[times.length * 3];
        for (int k = 0; k < times.length; k++) {
            Local at = way.apply(times[k]);
            System.arraycopy(at.translation(), 0, places, k * 3, 3);
            System.arraycopy(at.rotation(), 0, turns, k * 4, 4);
            System.arraycopy(at.scale(), 0, sizes, k * 3, 3);
        }
        alongTheShorterWay(turns);
        List<Channel> out = new ArrayList<>();
        if (differs(places, rest.translation())) {
            out.add(channel(node, Channel.Path.TRANSLATION, times, places, 3, stepped));
        }
        if (differs(turns, rest.rotation())) {
            out.add(channel(node, Channel.Path.ROTATION, times, turns, 4, stepped));
        }
        if (differs(sizes, rest.scale())) {
            out.add(channel(node, Channel.Path.SCALE, times, sizes, 3, stepped));
        }
        return out;
    }

    /** Turns quaternions to the side of the one before, so that what is between them goes the shorter way. */
    public static void alongTheShorterWay(float[] turns) {
        for (int at = 4; at < turns.length; at += 4) {
            double dot = 0;
            for (int i = 0; i < 4; i++) {
                dot += turns[at + i] * turns[at - 4 + i];
            }
            for (int i = 0; dot < 0 && i < 4; i++) {
                turns[at + i] = -turns[at + i];
            }
        }
    }

    private static boolean differs(float[] values, float[] still) {
        for (int i = 0; i < values.length; i++) {
            float rest = still[i % still.length];
            if (Math.abs(values[i] - rest) > 1e-7 * Math.max(1, Math.abs(rest))) {
                return true;
            }
        }
        return false;
    }

    private static Channel channel(
            int node, Channel.Path path, float[] times, float[] values, int width, boolean stepped) {
        Sampler.Interpolation kind = stepped ? Sampler.Interpolation.STEP : Sampler.Interpolation.LINEAR;
        return new Channel(node, path, new Sampler(kind, times, values, width, Storage.FLOAT), "", Passthrough.NONE);
    }
}
