package org.cleanmarrow.collision;

import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.Rig;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * How far a node turns against another over all clips, from how it stands at rest: a twist about its own length, and a lean of
 * that length (swing and twist, Dobrowolski 2015).
 *
 * @param swing      the largest lean, radians
 * @param leastTwist radians, 0 at most
 * @param mostTwist  radians, 0 at least
 */
public record JointRange(double swing, double leastTwist, double mostTwist) {
    private static final double STILL = 1e-3;

    /** @return empty where no clip turns it */
    public static Optional<JointRange> of(Asset asset, int node, int other) {
        Rig rig = new Rig(asset);
        Matrix4d[] rest = rig.rest().world();
        int axis = length(asset, rest, node);
        Quaterniond still = against(rest, node, other).conjugate();
        double swing = 0;
        double least = 0;
        double most = 0;
        for (Clip clip : asset.clips()) {
            for (double seconds : Overlaps.times(clip, 1)) {
                Quaterniond turn = still.mul(against(rig.at(clip, seconds).world(), node, other), new Quaterniond());
                double along = axis == 0 ? turn.x : axis == 1 ? turn.y : turn.z;
                double twist = 2 * Math.atan2(along, turn.w);
                twist = twist > Math.PI ? twist - 2 * Math.PI : twist < -Math.PI ? twist + 2 * Math.PI : twist;
                Vector3d own = new Vector3d().setComponent(axis, 1);
                swing = Math.max(swing, turn.transform(new Vector3d(own)).angle(own));
                least = Math.min(least, twist);
                most = Math.max(most, twist);
            }
        }
        return Math.max(swing, most - least) < STILL
                ? Optional.empty()
                : Optional.of(new JointRange(swing, least, most));
    }

    private static Quaterniond against(Matrix4d[] world, int node, int other) {
        return world[other]
                .getNormalizedRotation(new Quaterniond())
                .conjugate()
                .mul(world[node].getNormalizedRotation(new Quaterniond()));
    }

    /** Which of its own axes runs along a node's length: towards what hangs below it, else away from what it hangs on. */
    public static int length(Asset asset, Matrix4d[] world, int node) {
        int[] children = asset.nodes().get(node).children();
        int parent = asset.parents()[node];
        Vector3d along = world[node].getTranslation(new Vector3d());
        if (children.length > 0) {
            along.sub(world[children[0]].getTranslation(new Vector3d()));
        } else if (parent >= 0) {
            along.sub(world[parent].getTranslation(new Vector3d()));
        }
        world[node].invert(new Matrix4d()).transformDirection(along);
        return along.lengthSquared() == 0 ? 1 : along.maxComponent();
    }
}
