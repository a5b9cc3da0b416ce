package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.stream.IntStream;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** How far apart two clips move one asset, in metres: its drawn vertices, its joints where it has none. */
public final class ClipDifference {
    /** Numbers of a source that are kept for the next look. */
    private static final long MOST_KEPT = 20_000_000;

    private final Side side;
    private final List<MeshPairs.Pair> pairs;
    private final List<int[]> scouts;
    /** The scouts alone, close together in memory; null where vertex caches play. */
    private final @Nullable Deformer sparse;

    private final JointFacet joints;

    public ClipDifference(Asset asset) {
        side = new Side(asset);
        pairs = new MeshPairs(asset, asset, side.deformer.places(), side.deformer.places()).pairs;
        scouts = pairs.stream()
                .map(p -> Arrays.stream(Scouts.of(side, side, p))
                        .map(i -> p.ofA()[i])
                        .toArray())
                .toList();
        sparse = side.cached.isEmpty() ? new Deformer(Scouts.alone(asset, pairs, scouts)) : null;
        joints = new JointFacet(side, side, side.reach());
    }

    /** One clip as it stands at some times, to hold others against. */
    public final class Source {
        private final Clip clip;
        private final double[] times;
        private final boolean few;
        /** Of every time and mesh, where there are not too many to keep. */
        private final float @Nullable [][][] kept;

        private Source(Source whole, int[] which) {
            clip = whole.clip;
            few = whole.few;
            times = Arrays.stream(which).mapToDouble(i -> whole.times[i]).toArray();
            float[][][] all = whole.kept;
            kept = all == null
                    ? null
                    : Arrays.stream(which).mapToObj(i -> all[i]).toArray(float[][][]::new);
        }

        private Source(Clip clip, double[] times, boolean few, Work work) {
            Threads.begins("the difference of clips");
            this.clip = clip;
            this.times = times;
            this.few = few;
            long numbers =
                    3L * times.length * scouts.stream().mapToLong(s -> s.length).sum();
            kept = few && numbers <= MOST_KEPT ? new float[times.length][][] : null;
            if (kept != null) {
                IntStream.range(0, times.length).parallel().forEach(i -> {
                    work.stopIfCancelled();
                    Pose pose = side.pose(clip, times[i], -1);
                    kept[i] = points(pose, pose.world(), true);
                });
            }
        }

        /** The same at some of its times. */
        public Source at(int... which) {
            return new Source(this, which);
        }

        /**
         * The largest distance from another clip at each of the times; spread over all cores.
         *
         * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
         */
        public double[] from(Clip other, Work work) {
            double[] out = new double[times.length];
            IntStream.range(0, out.length).parallel().forEach(i -> {
                work.stopIfCancelled();
                Pose is = side.pose(other, times[i], -1);
                Matrix4d[] world = is.world();
                boolean known = kept != null && !pairs.isEmpty();
                Pose was = known ? null : side.pose(clip, times[i], -1);
                Matrix4d[] before = was == null ? null : was.world();
                double most = 0;
                for (int j = 0; before != null && j < joints.size() && pairs.isEmpty(); j++) {
                    most = Math.max(most, joints.apart(j, before, world));
                }
                float[][] p =
                        was == null || before == null ? Objects.requireNonNull(kept)[i] : points(was, before, few);
                out[i] = Math.max(most, largest(p, points(is, world, few)));
            });
            return out;
        }
    }

    /**
     * A clip at some times on its own time line.
     *
     * @param few only at the few vertices that stand out furthest on every joint
     */
    public Source source(Clip clip, double[] times, boolean few, Work work) {
        return new Source(clip, times, few, work);
    }

    Pose pose(Clip clip, double seconds) {
        return side.pose(clip, seconds, -1);
    }

    /**
     * How far a clip's last pose is from its first, in metres, at the few vertices that stand out furthest on every joint: a
     * fortieth of what {@link Seam} takes on a large mesh, and hardly less.
     */
    public double jump(Clip clip) {
        Pose first = pose(clip, clip.start());
        Pose last = pose(clip, clip.end());
        Matrix4d[] before = first.world();
        Matrix4d[] after = last.world();
        return pairs.isEmpty()
                ? largest(points(first, before), points(last, after))
                : largest(points(first, before, true), points(last, after, true));
    }

    /** All drawn vertices of a pose, mesh by mesh, or its nodes where nothing is drawn; in metres and glTF's axes. */
    float[][] points(Pose pose, Matrix4d[] world) {
        if (!pairs.isEmpty()) {
            return points(pose, world, false);
        }
        float[] nodes = new float[world.length * 3];
        for (int n = 0; n < world.length; n++) {
            Vector3d at = side.view.transformPosition(world[n].getTranslation(new Vector3d()));
            nodes[n * 3] = (float) at.x;
            nodes[n * 3 + 1] = (float) at.y;
            nodes[n * 3 + 2] = (float) at.z;
        }
        return new float[][] {nodes};
    }

    private float[][] points(Pose pose, Matrix4d[] world, boolean few) {
        float[][] out = new float[pairs.size()][];
        for (int m = 0; m < out.length; m++) {
            MeshPairs.Pair pair = pairs.get(m);
            if (few && sparse != null) {
                out[m] = new float[sparse.vertexCount(pair.a()) * 3];
                sparse.deform(pair.a(), pose, world, side.view, out[m], null, false);
                continue;
            }
            out[m] = side.positions(pair.a(), pose, world, few ? scouts.get(m) : pair.ofA());
        }
        return out;
    }

    private static double largest(float[][] p, float[][] q) {
        double most = 0;
        for (int m = 0; m < p.length; m++) {
            for (int v = 0; v < p[m].length; v += 3) {
                double x = (double) p[m][v] - q[m][v];
                double y = (double) p[m][v + 1] - q[m][v + 1];
                double z = (double) p[m][v + 2] - q[m][v + 2];
                most = Math.max(most, x * x + y * y + z * z);
            }
        }
        return Math.sqrt(most);
    }
}
