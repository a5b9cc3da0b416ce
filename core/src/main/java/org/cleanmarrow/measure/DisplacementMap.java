package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/**
 * What a change costs, vertex by vertex: how far each is moved at most over all clips and trial poses.
 *
 * @param of     the asset after the change
 * @param metres by mesh number of that asset, one a vertex; meshes that had not as many vertices before are left out
 * @param most   the largest of all, in metres
 */
public record DisplacementMap(Asset of, Map<Integer, float[]> metres, double most) {
    private static final int MOMENTS_A_CLIP = 8;

    private record Moment(@Nullable Clip before, @Nullable Clip after, double seconds) {}

    /**
     * Meshes are paired as the motion probe pairs them; vertices that nothing draws count as unmoved.
     *
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    public static DisplacementMap of(Asset before, Asset after, Work work) {
        Threads.begins("displacements");
        Side was = new Side(before);
        Side is = new Side(after);
        MeshPairs meshes = new MeshPairs(before, after, was.deformer.places(), is.deformer.places());
        List<MeshPairs.Pair> pairs =
                meshes.pairs.stream().filter(p -> !meshes.byNearest(p)).toList();
        Map<Integer, float[]> metres = new HashMap<>();
        pairs.forEach(p -> metres.put(p.b().mesh(), new float[is.deformer.vertexCount(p.b())]));
        moments(before, after).parallelStream().forEach(moment -> {
            work.stopIfCancelled();
            Pose a = was.pose(moment.before, moment.seconds, -1);
            Pose b = is.pose(moment.after, moment.seconds, -1);
            Matrix4d[] worldBefore = a.world();
            Matrix4d[] worldAfter = b.world();
            for (MeshPairs.Pair pair : pairs) {
                float[] p = was.positions(pair.a(), a, worldBefore, pair.ofA());
                float[] q = is.positions(pair.b(), b, worldAfter, pair.ofB());
                raise(Objects.requireNonNull(metres.get(pair.b().mesh())), pair.ofB(), p, q);
            }
        });
        double largest = 0;
        for (float[] all : metres.values()) {
            for (float m : all) {
                largest = Math.max(largest, m);
            }
        }
        return new DisplacementMap(after, Map.copyOf(metres), largest);
    }

    private static void raise(float[] most, int[] vertices, float[] p, float[] q) {
        synchronized (most) {
            for (int i = 0; i < vertices.length; i++) {
                float x = p[i * 3] - q[i * 3];
                float y = p[i * 3 + 1] - q[i * 3 + 1];
                float z = p[i * 3 + 2] - q[i * 3 + 2];
                most[vertices[i]] = Math.max(most[vertices[i]], (float) Math.sqrt(x * x + y * y + z * z));
            }
        }
    }

    private static List<Moment> moments(Asset before, Asset after) {
        List<Moment> out = new ArrayList<>(List.of(new Moment(null, null, 0)));
        for (Clip clip : after.clips()) {
            int twin = before.findClip(clip.name());
            for (double t : twin < 0 ? new double[0] : Moments.frames(clip, MOMENTS_A_CLIP)) {
                out.add(new Moment(before.clips().get(twin), clip, t));
            }
        }
        TrialPoses.of(after).forEach(pose -> out.add(new Moment(pose.clip(before), pose.clip(after), 1)));
        return out;
    }
}
