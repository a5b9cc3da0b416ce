package org.cleanmarrow.measure;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.pose.Strain;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;

/**
 * The moment of a clip in which the skin is strained most.
 *
 * @param change the stretch or squeeze that one vertex in a thousand passes: 0.5 half as long again, or half as long
 * @param strain by use of a skinned mesh, a number a vertex ({@link Strain#stretch})
 */
public record WorstMoment(double seconds, double change, Map<MeshPlace, float[]> strain) {
    /** Frames that are looked at, evenly over the clip. */
    private static final int FRAMES = 60;

    private static final double SHARE = 0.999;

    /** Empty where nothing is skinned or the clip has no length. Cost: posing and straining at most {@value #FRAMES} frames. */
    public static Optional<WorstMoment> of(Asset asset, Clip clip, Work work) {
        Threads.begins("worst moment");
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        Map<MeshPlace, float[]> still = new HashMap<>();
        for (MeshPlace place : deformer.places()) {
            if (place.skin() >= 0) {
                still.put(place, deformer.positions(place, rig.rest()));
            }
        }
        if (still.isEmpty() || clip.channels().isEmpty()) {
            return Optional.empty();
        }
        int frames = (int) Math.clamp(Math.round(clip.seconds() * clip.rate()), 0, FRAMES - 1);
        WorstMoment worst = null;
        for (int f = 0; f <= frames; f++) {
            work.stopIfCancelled();
            work.at(f / (double) (frames + 1), clip.name());
            double seconds = clip.start() + clip.seconds() * f / Math.max(1, frames);
            Pose pose = rig.at(clip, seconds);
            Map<MeshPlace, float[]> strain = new HashMap<>();
            double change = 0;
            for (Map.Entry<MeshPlace, float[]> one : still.entrySet()) {
                MeshPlace place = one.getKey();
                int[] corners =
                        MeshTopology.of(asset.meshes().get(place.mesh())).corners();
                float[] stretch = Strain.of(corners, one.getValue(), deformer.positions(place, pose))
                        .stretch();
                strain.put(place, stretch);
                change = Math.max(change, passed(stretch));
            }
            if (worst == null || change > worst.change) {
                worst = new WorstMoment(seconds, change, strain);
            }
        }
        return Optional.ofNullable(worst);
    }

    private static double passed(float[] stretch) {
        float[] sizes = new float[stretch.length];
        for (int v = 0; v < sizes.length; v++) {
            sizes[v] = Math.abs(stretch[v]);
        }
        Arrays.sort(sizes);
        return sizes.length == 0 ? 0 : sizes[(int) (SHARE * (sizes.length - 1))];
    }
}
