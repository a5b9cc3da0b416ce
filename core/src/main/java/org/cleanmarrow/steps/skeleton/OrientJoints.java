package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.NodeMap;
import org.cleanmarrow.edit.ReparentKeepingWorld;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix3d;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Gives joints axes by one rule: along the bone to the next joint, or those of the world. Clips and binds are rewritten,
 * so nothing moves. A joint at the end of a chain takes the axes of the one above; where a joint has several below it,
 * the one that leads on the longest chain counts.
 */
@StepInfo(name = "orient-joints", says = "Gives joints axes along their bones, or those of the world; nothing moves.")
public record OrientJoints(
        @Parameter(says = "names of the joints, with * for any run of characters", fallback = "\"*\"")
        String joints,

        @Parameter(
                says = "which of the joint's axes runs along the bone, or world for the world's axes",
                fallback = "\"y\"")
        Along along)
        implements Step {
    /** Which axis. */
    public enum Along {
        X,
        Y,
        Z,
        WORLD
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        NamePattern pattern = new NamePattern(joints);
        boolean[] joint = asset.jointFlags();
        Matrix4d[] world = new Rig(asset).rest().world();
        int[] longest = longest(asset, joint);
        int[] parents = asset.parents();
        ReparentKeepingWorld rehang = new ReparentKeepingWorld(asset);
        Matrix3d[] wanted = new Matrix3d[joint.length];
        long many = 0;
        for (int n : asset.topDown()) {
            boolean chosen = joint[n] && (pattern.fits(asset.nodes().get(n).name()) || pattern.fits(asset.nodeRef(n)));
            if (!chosen) {
                continue;
            }
            Matrix3d own = proper(world[n]);
            int next = next(asset, joint, longest, n);
            Vector3d bone = next < 0
                    ? null
                    : world[next].getTranslation(new Vector3d()).sub(world[n].getTranslation(new Vector3d()));

            Matrix3d axes = along == Along.WORLD
                    ? new Matrix3d()
                    : bone == null || bone.length() < 1e-9
                            ? parents[n] >= 0 && wanted[parents[n]] != null ? wanted[parents[n]] : own
                            : along(
                                    bone.normalize(),
                                    asset.conventions().forward().vector());
            wanted[n] = axes;
            Matrix3d change = own.transpose(new Matrix3d()).mul(axes);
            if (!change.equals(new Matrix3d(), 1e-9)) {
                rehang.frame(n, new Matrix4d().set3x3(change));
                many++;
            }
        }
        if (many == 0) {
            return Change.of(asset).count("joints.turned.to.their.bones", 0);
        }
        return Change.of(rehang.done(work)).count("joints.turned.to.their.bones", many);
    }

    /** Axes of which one runs along the bone and another as near as may be to the front. */
    private Matrix3d along(Vector3d bone, Vector3d front) {
        Vector3d second = new Vector3d(front).fma(-front.dot(bone), bone);
        if (second.length() < 0.1) {
            Vector3d other = Math.abs(bone.x) < 0.7 ? new Vector3d(1, 0, 0) : new Vector3d(0, 1, 0);
            second = other.fma(-other.dot(bone), bone);
        }
        second.normalize();
        Vector3d third = new Vector3d(bone).cross(second);
        return switch (along) {
            case X -> new Matrix3d(bone, second, third);
            case Y -> new Matrix3d(second.cross(bone, new Vector3d()).negate(), bone, second);
            default -> new Matrix3d(second, new Vector3d(third), bone);
        };
    }

    private static Matrix3d proper(Matrix4d m) {
        return new Matrix3d().set(NodeMap.properPart(new Matrix3d(m)));
    }

    private static int[] longest(Asset asset, boolean[] joint) {
        int[] out = new int[joint.length];
        int[] order = asset.topDown();
        int[] parents = asset.parents();
        for (int i = order.length - 1; i >= 0; i--) {
            int n = order[i];
            if (joint[n] && parents[n] >= 0) {
                out[parents[n]] = Math.max(out[parents[n]], out[n] + 1);
            }
        }
        return out;
    }

    private static int next(Asset asset, boolean[] joint, int[] longest, int n) {
        List<Integer> below = new ArrayList<>();
        for (int child : asset.nodes().get(n).children()) {
            if (joint[child]) {
                below.add(child);
            }
        }
        return below.stream()
                .max(java.util.Comparator.comparingInt(c -> longest[c]))
                .orElse(-1);
    }
}
