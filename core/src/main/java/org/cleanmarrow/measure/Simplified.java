package org.cleanmarrow.measure;

import java.util.Arrays;
import org.cleanmarrow.geometry.SurfaceDistance;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.trial.Moments;
import org.cleanmarrow.work.Work;

/**
 * How far a coarser mesh strays from the one it was made of: the distance of every vertex to the nearest point of the
 * coarser surface at rest, and in the frames of the clips of the surfaces as they are then.
 *
 * @param restMetres  largest distance at rest
 * @param clipsMetres the same in any frame looked at, at most 40 a clip
 * @param clip        where that is, empty where there are no clips
 */
public record Simplified(double restMetres, double clipsMetres, String clip, int frames) {
    private static final int MOST_FRAMES = 40;

    /** Compares one use of a mesh in an asset with a use of a coarser one in another. */
    public static Simplified measure(Asset fine, MeshPlace of, Asset coarse, MeshPlace to, Work work) {
        Deformer fineDeformer = new Deformer(fine);
        Deformer coarseDeformer = new Deformer(coarse);
        Rig fineRig = new Rig(fine);
        Rig coarseRig = new Rig(coarse);
        int[] corners = MeshTopology.of(coarse.meshes().get(to.mesh())).corners();
        int[] drawn = drawn(fine.meshes().get(of.mesh()));
        float[] points = some(fineDeformer.positions(of, fineRig.rest()), drawn);
        float[] places = coarseDeformer.positions(to, coarseRig.rest());
        if (corners.length == 0) {
            return new Simplified(Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY, "", 0);
        }
        SurfaceDistance distance = new SurfaceDistance(corners, points, places);
        double rest = distance.largest(points, places, 0);
        double most = 0;
        String where = "";
        int frames = 0;
        for (Clip clip : fine.clips()) {
            int twin = coarse.findClip(clip.name());
            for (double seconds : Moments.frames(clip, MOST_FRAMES)) {
                work.stopIfCancelled();
                frames++;
                Pose other = twin < 0
                        ? coarseRig.rest()
                        : coarseRig.at(coarse.clips().get(twin), seconds);
                double here = distance.largest(
                        some(fineDeformer.positions(of, fineRig.at(clip, seconds)), drawn),
                        coarseDeformer.positions(to, other),
                        most);
                if (here > most) {
                    most = here;
                    where = clip.name();
                }
            }
        }
        double metres = fine.conventions().metresPerUnit();
        return new Simplified(rest * metres, Math.max(most, rest) * metres, where, frames);
    }

    private static float[] some(float[] points, int[] which) {
        float[] out = new float[which.length * 3];
        for (int i = 0; i < which.length; i++) {
            System.arraycopy(points, which[i] * 3, out, i * 3, 3);
        }
        return out;
    }

    private static int[] drawn(Mesh mesh) {
        return Arrays.stream(MeshTopology.of(mesh).corners())
                .sorted()
                .distinct()
                .toArray();
    }
}
