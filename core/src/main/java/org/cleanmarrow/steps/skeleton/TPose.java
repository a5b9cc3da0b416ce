package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.edit.RestPose;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/**
 * Straightens a body at rest, by the roles of its joints: arms along the side axis, or down by an angle; legs straight
 * down, palms to the ground. Clips go on as before; the mesh follows its joints, and is bound anew only on demand.
 */
@StepInfo(
        name = "t-pose",
        says = "Straightens a body to a T-pose, or to arms down by an angle, and makes it the rest pose.")
public record TPose(
        @Parameter(
                says = "how far the arms hang below the side axis: 0 for a T, 45 for an A",
                fallback = "0",
                unit = "degrees",
                least = -90,
                most = 90)
        double armsDown)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(armsDown >= -90 && armsDown <= 90)) {
            throw new Refused("pose.angle", armsDown);
        }
        Map<Role, List<Integer>> roles = Roles.of(asset);
        for (Role role :
                List.of(Role.LEFT_UPPER_ARM, Role.RIGHT_UPPER_ARM, Role.LEFT_LOWER_ARM, Role.RIGHT_LOWER_ARM)) {
            if (!roles.containsKey(role)) {
                throw new Refused("pose.role", role.code());
            }
        }
        Straight straight = new Straight(asset, roles);
        Body.Frame frame = Body.of(asset).frame();
        Vector3d up = frame.up();
        for (int side = 1; side >= -1; side -= 2) {
            double down = Math.toRadians(armsDown);
            Vector3d arm = new Vector3d(frame.left()).mul(side * Math.cos(down)).fma(-Math.sin(down), up);
            straight.aim(role(side, "UPPER_ARM"), role(side, "LOWER_ARM"), arm);
            straight.aim(role(side, "LOWER_ARM"), role(side, "HAND"), arm);
            straight.aim(role(side, "HAND"), role(side, "MIDDLE_PROXIMAL"), arm);
            straight.palm(side, arm, up, frame.forward());
            Vector3d leg = new Vector3d(up).negate();
            straight.aim(role(side, "UPPER_LEG"), role(side, "LOWER_LEG"), leg);
            straight.aim(role(side, "LOWER_LEG"), role(side, "FOOT"), leg);
        }
        return RestPose.made(asset, straight.nodes()).count("joints.turned", straight.turned);
    }

    private static Role role(int side, String rest) {
        return Role.valueOf((side > 0 ? "LEFT_" : "RIGHT_") + rest);
    }

    /** Turns joints at rest, one after the other, from the body outwards. */
    private static final class Straight {
        private final Asset asset;
        private final Map<Role, List<Integer>> roles;
        private final int[] parents;
        private Asset now;
        private long turned;

        Straight(Asset asset, Map<Role, List<Integer>> roles) {
            this.asset = asset;
            this.roles = roles;
            parents = asset.parents();
            now = asset;
        }

        List<Node> nodes() {
            return now.nodes();
        }

        private int node(Role role) {
            return roles.containsKey(role) ? roles.get(role).getFirst() : -1;
        }

        /** Turns a joint so that the next one lies in a direction from it. */
        void aim(Role of, Role next, Vector3d direction) {
            int n = node(of);
            int to = node(next);
            if (n < 0 || to < 0) {
                return;
            }
            Matrix4d[] world = new Rig(now).rest().world();
            Vector3d is = world[to].getTranslation(new Vector3d()).sub(world[n].getTranslation(new Vector3d()));
            if (is.length() > 0) {
                turn(n, new Quaterniond().rotationTo(is.normalize(), new Vector3d(direction).normalize()), world);
            }
        }

        /** Turns a hand about the arm so that the row of its fingers lies level, thumb to the front, palm down. */
        void palm(int side, Vector3d arm, Vector3d up, Vector3d front) {
            int hand = node(role(side, "HAND"));
            int index = node(role(side, "INDEX_PROXIMAL"));
            int little = node(role(side, "LITTLE_PROXIMAL"));
            if (hand < 0 || index < 0 || little < 0) {
                return;
            }
            Matrix4d[] world = new Rig(now).rest().world();
            Vector3d row =
                    world[index].getTranslation(new Vector3d()).sub(world[little].getTranslation(new Vector3d()));
            row.fma(-row.dot(arm), arm);
            Vector3d wanted = new Vector3d(front).fma(-front.dot(arm), arm);
            if (row.length() > 0 && wanted.length() > 0) {
                double angle = row.angleSigned(wanted, arm);
                turn(hand, new Quaterniond().fromAxisAngleRad(arm, angle), world);
            }
        }

        private void turn(int n, Quaterniond by, Matrix4d[] world) {
            Vector3d at = world[n].getTranslation(new Vector3d());
            Matrix4d goal = new Matrix4d()
                    .translation(at)
                    .rotate(by)
                    .translate(new Vector3d(at).negate())
                    .mul(world[n]);
            Matrix4d above = parents[n] < 0 ? new Matrix4d() : world[parents[n]];
            Matrix4d local = new Matrix4d(above).invert().mul(goal);
            List<Node> nodes = new ArrayList<>(now.nodes());
            nodes.set(n, nodes.get(n).withLocal(Baker.parts(local)));
            now = now.withNodes(nodes);
            turned++;
        }
    }
}
