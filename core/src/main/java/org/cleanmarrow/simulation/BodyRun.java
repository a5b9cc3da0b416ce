package org.cleanmarrow.simulation;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/** Lets the free bodies of an asset go over a whole clip, or for a while ({@link BodyWorld}). */
public final class BodyRun {
    /** Farther than that nothing comes back, metres. */
    private static final double FAR = 1e4;

    /** What goes so many times as far as all is large has left. */
    private static final double AWAY = 20;

    /** Rounding of a step may add this share of what was ever fallen. */
    private static final double GROWN = 0.05;

    private BodyRun() {}

    /**
     * What happened.
     *
     * @param nodes  of free bodies, from the top down
     * @param frames for each frame the transforms of these nodes and those next above them, in the asset's world and unit
     * @param loose  joints that leave places free that are held by nothing here, and so do not count
     * @param gone   free bodies farther than ten kilometres, or nowhere
     * @param away   free bodies that ended more than twenty times as far from where they began as all is large
     * @param grown  joules more than there were at the start, where nothing moved or pulled them; else 0
     */
    public record Result(
            List<Integer> nodes,
            List<Map<Integer, Matrix4d>> frames,
            int loose,
            int gone,
            List<Integer> away,
            double grown) {}

    /** Whether a drive wants something else than how bodies hang at rest, and so gives them energy. */
    private static boolean isDriven(Asset asset) {
        return Bodies.joints(asset).stream()
                .flatMap(j -> j.drives().stream())
                .anyMatch(d -> d.position() != 0 || d.velocity() != 0);
    }

    /**
     * Runs it.
     *
     * @param clip    what moves the rest; null: all stands as at rest
     * @param floor   height of a level floor in the asset's unit; not a number: there is none
     * @param seconds one a frame on the clip's time line, rising
     * @param pulls   for each frame what pulls on the way there; fewer: nothing pulls in the rest
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     * @throws org.cleanmarrow.model.Sheared where a shape would have to shear
     */
    public static Result run(
            Asset asset,
            @Nullable Clip clip,
            double floor,
            float[] seconds,
            List<List<BodyWorld.Pull>> pulls,
            Work work) {
        try (BodyWorld world = new BodyWorld(asset, clip, floor, seconds[0])) {
            List<Map<Integer, Matrix4d>> frames = new ArrayList<>();
            frames.add(world.frame());
            boolean alone = clip == null && pulls.stream().allMatch(List::isEmpty) && !isDriven(asset);
            double began = world.energy();
            double most = began;
            double least = began;
            for (int k = 1; k < seconds.length; k++) {
                work.stopIfCancelled();
                work.at(k / (double) seconds.length, "");
                world.advance(seconds[k], k < pulls.size() ? pulls.get(k) : List.of());
                frames.add(world.frame());
                double energy = world.energy();
                most = Math.max(most, energy);
                least = Math.min(least, energy);
            }
            double metres = asset.conventions().metresPerUnit();
            double far = AWAY * RestBox.of(asset).diagonal() * metres;
            int gone = 0;
            List<Integer> away = new ArrayList<>();
            for (int n : world.free()) {
                Vector3d p = world.node(n).getTranslation(new Vector3d()).mul(metres);
                boolean there = p.isFinite() && p.length() < FAR;
                gone += there ? 0 : 1;
                Vector3d from = Objects.requireNonNull(frames.getFirst().get(n))
                        .getTranslation(new Vector3d())
                        .mul(metres);
                if (there && far > 0 && p.distance(from) > far) {
                    away.add(n);
                }
            }
            double grown = most - began;
            boolean grew = alone && grown > GROWN * (began - least) + 1e-3;
            return new Result(world.free(), frames, world.loose(), gone, away, grew ? grown : 0);
        }
    }
}
