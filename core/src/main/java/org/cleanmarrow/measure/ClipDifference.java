package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/** How far apart two clips move one asset, in metres: its drawn vertices, its joints where it has none. */
public final class ClipDifference {
    private final Side side;
    private final List<MeshPairs.Pair> pairs;
    private final List<int[]> scouts;
    private final JointFacet joints;

    public ClipDifference(Asset asset) {
        side = new Side(asset);
        pairs = new MeshPairs(asset, asset, side.deformer.places(), side.deformer.places()).pairs;
        scouts = pairs.stream()
                .map(p -> Arrays.stream(Scouts.of(side, side, p))
                        .map(i -> p.ofA()[i])
                        .toArray())
                .toList();
        joints = new JointFacet(side, side, side.reach());
    }

    /**
     * The largest distance at each of some times, all on the clips' time lines; spread over all cores.
     *
     * @param few only at the few vertices that stand out furthest on every joint
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public double[] at(Clip a, Clip b, double[] times, boolean few, Work work) {
        Threads.begins("the difference of clips");
        double[] out = new double[times.length];
        IntStream.range(0, out.length).parallel().forEach(i -> {
            work.stopIfCancelled();
            out[i] = at(a, b, times[i], few);
        });
        return out;
    }

    private double at(Clip a, Clip b, double seconds, boolean few) {
        Pose one = side.pose(a, seconds, -1);
        Pose other = side.pose(b, seconds, -1);
        Matrix4d[] worldOne = one.world();
        Matrix4d[] worldOther = other.world();
        double most = 0;
        for (int i = 0; i < joints.size() && pairs.isEmpty(); i++) {
            most = Math.max(most, joints.apart(i, worldOne, worldOther));
        }
        for (int m = 0; m < pairs.size(); m++) {
            MeshPairs.Pair pair = pairs.get(m);
            int[] which = few ? scouts.get(m) : pair.ofA();
            float[] p = side.positions(pair.a(), one, worldOne, which);
            float[] q = side.positions(pair.a(), other, worldOther, which);
            for (int v = 0; v < p.length; v += 3) {
                double x = (double) p[v] - q[v];
                double y = (double) p[v + 1] - q[v + 1];
                double z = (double) p[v + 2] - q[v + 2];
                most = Math.max(most, Math.sqrt(x * x + y * y + z * z));
            }
        }
        return most;
    }
}
