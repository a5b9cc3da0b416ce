package org.cleanmarrow.probe;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.asset.Mesh;
import org.cleanmarrow.geometry.MeshTopology;
import org.cleanmarrow.geometry.TriangleTree;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.step.Work;

/**
 * How far a coarser mesh strays from the one it was made of: the distance of every vertex to the nearest point of the
 * coarser surface at rest, and how much further apart the two are in any frame of the clips.
 *
 * @param restMetres  largest distance at rest
 * @param clipsMetres largest distance in any frame between a vertex and the point that was nearest to it at rest
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
        float[] at = fineDeformer.positions(of, fineRig.rest());
        float[] surface = coarseDeformer.positions(to, coarseRig.rest());
        int[] corners = MeshTopology.of(coarse.meshes().get(to.mesh())).corners();
        boolean[] drawn = drawn(fine.meshes().get(of.mesh()));
        TriangleTree tree = new TriangleTree(corners, surface);
        Shells shells = new Shells(fine.meshes().get(of.mesh()), coarse.meshes().get(to.mesh()), corners);
        TriangleTree.Hit[] nearest = new TriangleTree.Hit[at.length / 3];
        double rest = 0;
        for (int v = 0; v < nearest.length; v++) {
            if (drawn[v]) {
                int own = shells.of(v);
                nearest[v] = tree.nearestPoint(
                        at[v * 3], at[v * 3 + 1], at[v * 3 + 2], t -> own < 0 || shells.ofTriangle(t) == own);
            }
            rest = nearest[v] == null ? rest : Math.max(rest, nearest[v].distance());
        }
        double most = 0;
        String where = "";
        int frames = 0;
        for (Clip clip : fine.clips()) {
            int twin = coarse.findClip(clip.name());
            for (double seconds : moments(clip)) {
                work.stopIfCancelled();
                frames++;
                Pose pose = fineRig.at(clip, seconds);
                Pose other = twin < 0
                        ? coarseRig.rest()
                        : coarseRig.at(coarse.clips().get(twin), seconds);
                float[] moved = fineDeformer.positions(of, pose);
                float[] under = coarseDeformer.positions(to, other);
                double here = largest(moved, under, corners, nearest);
                if (here > most) {
                    most = here;
                    where = clip.name();
                }
            }
        }
        double metres = fine.conventions().metresPerUnit();
        return new Simplified(rest * metres, Math.max(most, rest) * metres, where, frames);
    }

    /**
     * Which shell of the finer mesh a triangle of the coarser came from, known by where its first corner is. What lies on
     * another shell may be nearer at rest and goes its own way in a clip, so it is no measure.
     */
    private static final class Shells {
        private final MeshTopology fine;
        private final int[] ofTriangle;
        private final BitSet left = new BitSet();

        Shells(Mesh of, Mesh coarse, int[] corners) {
            fine = MeshTopology.of(of);
            float[] at = MeshTopology.restPositions(of);
            Map<List<Float>, Integer> shellAt = new HashMap<>();
            for (int v = 0; v < of.vertexCount(); v++) {
                shellAt.put(List.of(at[v * 3], at[v * 3 + 1], at[v * 3 + 2]), fine.shellOf(v));
            }
            float[] kept = MeshTopology.restPositions(coarse);
            ofTriangle = new int[corners.length / 3];
            for (int t = 0; t < ofTriangle.length; t++) {
                int c = corners[t * 3] * 3;
                ofTriangle[t] = shellAt.getOrDefault(List.of(kept[c], kept[c + 1], kept[c + 2]), -1);
                if (ofTriangle[t] >= 0) {
                    left.set(ofTriangle[t]);
                }
            }
        }

        int ofTriangle(int t) {
            return ofTriangle[t];
        }

        /** Shell of a vertex of the finer mesh; -1 where nothing of it is left. */
        int of(int vertex) {
            int shell = fine.shellOf(vertex);
            return left.get(shell) ? shell : -1;
        }
    }

    private static List<Double> moments(Clip clip) {
        List<Double> out = new ArrayList<>();
        if (clip.channels().isEmpty()) {
            return out;
        }
        int frames = Math.max(1, clip.lastFrame() - clip.firstFrame());
        int step = Math.max(1, (int) Math.ceil(frames / (double) MOST_FRAMES));
        for (int f = 0; f <= frames; f += step) {
            out.add(clip.start() + f / clip.rate());
        }
        return out;
    }

    private static double largest(float[] moved, float[] under, int[] corners, TriangleTree.Hit[] nearest) {
        double most = 0;
        for (int v = 0; v < nearest.length; v++) {
            if (nearest[v] == null) {
                continue;
            }
            int t = nearest[v].triangle() * 3;
            double u = nearest[v].u();
            double w = nearest[v].v();
            double sum = 0;
            for (int i = 0; i < 3; i++) {
                double p = (1 - u - w) * under[corners[t] * 3 + i]
                        + u * under[corners[t + 1] * 3 + i]
                        + w * under[corners[t + 2] * 3 + i];
                sum += (p - moved[v * 3 + i]) * (p - moved[v * 3 + i]);
            }
            most = Math.max(most, Double.isNaN(sum) ? 0 : sum);
        }
        return Math.sqrt(most);
    }

    private static boolean[] drawn(Mesh mesh) {
        boolean[] out = new boolean[mesh.vertexCount()];
        for (int corner : MeshTopology.of(mesh).corners()) {
            out[corner] = true;
        }
        return out;
    }
}
