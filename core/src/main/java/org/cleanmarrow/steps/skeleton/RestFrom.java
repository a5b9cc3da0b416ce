package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.edit.RestPose;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.pose.RestAndBind;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Makes another pose the rest pose: that of a frame, or the one that the mesh was bound in. Clips say where joints are
 * and not how far from rest, so they go on as before.
 */
@StepInfo(
        name = "rest-from",
        says = "Makes the pose of a frame, or the bind pose, the rest pose; clips go on as before.")
public record RestFrom(
        @Parameter(says = "clip to take the pose from; null for the bind pose", fallback = "null")
        Optional<String> clip,

        @Parameter(says = "frame of the clip", fallback = "0")
        int frame)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return clip.isPresent() ? fromFrame(asset) : fromBind(asset);
    }

    private Change fromFrame(Asset asset) throws Refused {
        int number = asset.findClip(clip.get());
        if (number < 0) {
            throw new Refused("no.clip", clip.get());
        }
        Clip taken = asset.clips().get(number);
        if (frame < taken.firstFrame() || frame > taken.lastFrame()) {
            throw new Refused("rest.frame", frame, taken.name(), taken.firstFrame(), taken.lastFrame());
        }
        NodeMotion motion = new NodeMotion(asset, taken);
        List<Node> nodes = new ArrayList<>(asset.nodes());
        long changed = 0;
        for (int n = 0; n < nodes.size(); n++) {
            if (motion.moves(n)) {
                nodes.set(n, nodes.get(n).withLocal(Baker.parts(motion.local(n, frame / taken.rate()))));
                changed++;
            }
        }
        return RestPose.made(asset, nodes).count("joints.at.rest.elsewhere", changed);
    }

    private static Change fromBind(Asset asset) throws Refused {
        Matrix4d[] world = new Rig(asset).rest().world();
        Matrix4d[] wanted = new Matrix4d[world.length];
        for (Skin skin : asset.skins()) {
            Matrix4d space = RestAndBind.bindSpace(asset, skin, world);
            for (int j = 0; j < skin.joints().length; j++) {
                Matrix4d bound = new Matrix4d(space).mul(skin.inverseBind(j).invert());
                if (!bound.isFinite()) {
                    throw new Refused("rest.no.bind", asset.nodeRef(skin.joints()[j]));
                }
                Matrix4d known = wanted[skin.joints()[j]];
                if (known != null
                        && !known.equals(
                                bound,
                                1e-4
                                        * (1
                                                + bound.getTranslation(new org.joml.Vector3d())
                                                        .length()))) {
                    throw new Refused("rest.binds.differ", asset.nodeRef(skin.joints()[j]));
                }
                wanted[skin.joints()[j]] = bound;
            }
        }
        int[] parents = asset.parents();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        Matrix4d[] now = new Matrix4d[world.length];
        boolean[] moved = new boolean[world.length];
        double far = RestAndBind.reach(world);
        long changed = 0;
        for (int n : asset.topDown()) {
            Matrix4d above = parents[n] < 0 ? new Matrix4d() : now[parents[n]];
            Matrix4d local = nodes.get(n).local().toMatrix();
            if (wanted[n] != null) {
                boolean rests = parents[n] < 0 || !moved[parents[n]];
                if (!(rests && RestAndBind.same(wanted[n], world[n], far))) {
                    Matrix4d goal = new Matrix4d(above).invert().mul(wanted[n]);
                    if (Baker.shear(goal) > 1e-4) {
                        throw new Refused("rest.shear", asset.nodeRef(n));
                    }
                    nodes.set(n, nodes.get(n).withLocal(Baker.parts(goal)));
                    local = goal;
                    changed++;
                    moved[n] = true;
                }
            }
            moved[n] |= parents[n] >= 0 && moved[parents[n]];
            now[n] = new Matrix4d(above).mul(local);
        }
        return RestPose.made(asset, nodes).count("joints.at.rest.elsewhere", changed);
    }
}
