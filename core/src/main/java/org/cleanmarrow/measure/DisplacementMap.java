package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.trial.TrialPoses;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * What a change costs, vertex by vertex: how far each is moved at most over all clips and trial poses.
 *
 * @param of     the asset after the change
 * @param metres by mesh number of that asset, one a vertex; meshes that had not as many vertices before are left out
 * @param most   the largest of all, in metres
 */
public record DisplacementMap(Asset of, Map<Integer, float[]> metres, double most) {
    private static final int MOMENTS_A_CLIP = 8;

    private record Moment(Clip before, Clip after, double seconds) {}

    /** @throws java.util.concurrent.CancellationException when {@code work} was cancelled */
    public static DisplacementMap of(Asset before, Asset after, Work work) {
        Deformer was = new Deformer(before);
        Deformer is = new Deformer(after);
        Map<Integer, float[]> metres = new HashMap<>();
        List<MeshPlace[]> pairs = new ArrayList<>();
        for (MeshPlace place : is.places()) {
            twin(was, is, place).ifPresent(twin -> {
                pairs.add(new MeshPlace[] {twin, place});
                metres.put(place.mesh(), new float[is.vertexCount(place)]);
            });
        }
        Rig rigBefore = new Rig(before);
        Rig rigAfter = new Rig(after);
        Matrix4d viewBefore =
                Conversion.between(before.conventions(), Conventions.GLTF).matrix();
        Matrix4d viewAfter =
                Conversion.between(after.conventions(), Conventions.GLTF).matrix();
        for (Moment moment : moments(before, after)) {
            work.stopIfCancelled();
            Pose a = moment.before == null ? rigBefore.rest() : rigBefore.at(moment.before, moment.seconds);
            Pose b = moment.after == null ? rigAfter.rest() : rigAfter.at(moment.after, moment.seconds);
            Matrix4d[] worldBefore = a.world();
            Matrix4d[] worldAfter = b.world();
            for (MeshPlace[] pair : pairs) {
                float[] most = metres.get(pair[1].mesh());
                float[] p = new float[most.length * 3];
                float[] q = new float[most.length * 3];
                was.deform(pair[0], a, worldBefore, viewBefore, p, null, true);
                is.deform(pair[1], b, worldAfter, viewAfter, q, null, true);
                for (int v = 0; v < most.length; v++) {
                    float x = p[v * 3] - q[v * 3];
                    float y = p[v * 3 + 1] - q[v * 3 + 1];
                    float z = p[v * 3 + 2] - q[v * 3 + 2];
                    most[v] = Math.max(most[v], (float) Math.sqrt(x * x + y * y + z * z));
                }
            }
        }
        double largest = 0;
        for (float[] all : metres.values()) {
            for (float m : all) {
                largest = Math.max(largest, m);
            }
        }
        return new DisplacementMap(after, Map.copyOf(metres), largest);
    }

    private static Optional<MeshPlace> twin(Deformer was, Deformer is, MeshPlace place) {
        String label = place.label(is.asset());
        return was.places().stream()
                .filter(p -> p.label(was.asset()).equals(label) && was.vertexCount(p) == is.vertexCount(place))
                .findFirst();
    }

    private static List<Moment> moments(Asset before, Asset after) {
        List<Moment> out = new ArrayList<>(List.of(new Moment(null, null, 0)));
        for (Clip clip : after.clips()) {
            int twin = before.findClip(clip.name());
            for (int i = 0; twin >= 0 && i < MOMENTS_A_CLIP; i++) {
                out.add(new Moment(
                        before.clips().get(twin), clip, clip.start() + clip.seconds() * i / (MOMENTS_A_CLIP - 1)));
            }
        }
        TrialPoses.of(after).forEach(pose -> out.add(new Moment(pose.clip(before), pose.clip(after), 1)));
        return out;
    }
}
