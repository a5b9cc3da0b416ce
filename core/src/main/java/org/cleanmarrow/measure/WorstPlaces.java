package org.cleanmarrow.measure;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.pose.Strain;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.work.Threads;
import org.cleanmarrow.work.Work;

/**
 * Where a pose strains a skinned mesh most.
 *
 * @param pose     which
 * @param mesh     number of the mesh
 * @param vertices around the worst place
 * @param worst    stretch there: 0.5 half as long again, -0.5 half as long
 * @param mean     mean absolute strain of the whole mesh
 * @param turned   triangles turned over
 * @param volume   volume against rest, less one; zero where the mesh does not enclose any
 * @param crossing edges that go through the mesh itself, more than do at rest
 */
public record WorstPlaces(
        TrialPose pose, int mesh, BitSet vertices, double worst, double mean, int turned, double volume, int crossing) {
    /** Rings of neighbours around the worst vertex that are shown with it. */
    private static final int RINGS = 2;

    /** One for every trial pose and skinned mesh, the worst first. */
    public static List<WorstPlaces> of(Asset asset, List<TrialPose> poses, Work work) {
        Threads.begins("worst places");
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        Pose rest = rig.rest();
        List<WorstPlaces> out = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
            if (place.skin() < 0) {
                continue;
            }
            MeshTopology topology = MeshTopology.of(asset.meshes().get(place.mesh()));
            float[] still = deformer.positions(place, rest);
            double volume = Strain.volume(topology.corners(), still);
            WeldedSurface welded = topology.welded(asset.meshes().get(place.mesh()));
            SelfIntersections through = new SelfIntersections(welded, still);
            int crossing = through.count(still);
            for (TrialPose pose : poses) {
                work.stopIfCancelled();
                float[] posed = deformer.positions(place, rig.at(pose.clip(asset), 1));
                Strain strain = Strain.of(topology.corners(), still, posed);
                int worst = 0;
                for (int v = 1; v < strain.stretch().length; v++) {
                    worst = Math.abs(strain.stretch()[v]) > Math.abs(strain.stretch()[worst]) ? v : worst;
                }
                BitSet around = new BitSet();
                around.set(worst);
                for (int ring = 0; ring < RINGS; ring++) {
                    around = topology.grown(around);
                }
                out.add(new WorstPlaces(
                        pose,
                        place.mesh(),
                        around,
                        strain.stretch().length == 0 ? 0 : strain.stretch()[worst],
                        strain.mean(),
                        strain.turned().cardinality(),
                        volume == 0 ? 0 : Strain.volume(topology.corners(), posed) / volume - 1,
                        Math.max(0, through.count(posed) - crossing)));
            }
        }
        out.sort(
                Comparator.comparingDouble((WorstPlaces w) -> Math.abs(w.worst)).reversed());
        return out;
    }
}
