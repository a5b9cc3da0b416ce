package org.cleanmarrow.simulation;

import java.util.List;
import org.cleanmarrow.collision.RigidJoint;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.ode4j.ode.DBallJoint;
import org.ode4j.ode.DBody;
import org.ode4j.ode.DFixedJoint;
import org.ode4j.ode.DHingeJoint;
import org.ode4j.ode.DWorld;
import org.ode4j.ode.OdeHelper;

/**
 * Joints as the library has them: fixed, a hinge with stops, or a ball with a cone that it may lean within and a twist. Limits count
 * from rest, so bodies stand there when a joint is made.
 */
final class BodyJoints {
    private static final int ALL = 7;

    private BodyJoints() {}

    /**
     * Makes one.
     *
     * @param hangs body of the joint's node
     * @param at    the joint's frame at rest, metres
     * @param leaning gets what has to be told at every step
     * @return false where places are not held, which is no joint here
     */
    static boolean make(DWorld world, RigidJoint joint, DBody hangs, DBody holds, Matrix4d at, List<Leaning> leaning) {
        if (locked(joint.limits(), false) != ALL) {
            return false;
        }
        int still = locked(joint.limits(), true);
        Vector3d anchor = at.getTranslation(new Vector3d());
        if (still == ALL) {
            DFixedJoint made = OdeHelper.createFixedJoint(world);
            made.attach(hangs, holds);
            made.setFixed();
        } else if (Integer.bitCount(still) == 2) {
            hinge(world, joint, hangs, holds, at, ALL - still);
        } else {
            ball(world, joint, hangs, holds, at, anchor, leaning);
        }
        return true;
    }

    /** Axes that may not move at all. */
    private static int locked(List<RigidJoint.Limit> limits, boolean turn) {
        int out = 0;
        for (RigidJoint.Limit limit : limits) {
            if (limit.turn() == turn && limit.least() == 0 && limit.most() == 0) {
                out |= limit.axes();
            }
        }
        return out;
    }

    private static void hinge(DWorld world, RigidJoint joint, DBody hangs, DBody holds, Matrix4d at, int axis) {
        DHingeJoint made = OdeHelper.createHingeJoint(world);
        made.attach(hangs, holds);
        Vector3d anchor = at.getTranslation(new Vector3d());
        Vector3d about = at.getColumn(axis >> 1, new Vector3d()).normalize();
        made.setAnchor(anchor.x, anchor.y, anchor.z);
        made.setAxis(about.x, about.y, about.z);
        for (RigidJoint.Limit limit : joint.limits()) {
            if (limit.turn() && limit.axes() == axis) {
                // Set twice, as stops only hold where low is not above high.
                made.setParamHiStop(stop(limit.most()));
                made.setParamLoStop(stop(limit.least()));
                made.setParamHiStop(stop(limit.most()));
            }
        }
    }

    /** A stop of a whole half turn is none. */
    private static double stop(double angle) {
        return Math.abs(angle) >= Math.PI ? Math.copySign(Double.POSITIVE_INFINITY, angle) : angle;
    }

    private static void ball(
            DWorld world,
            RigidJoint joint,
            DBody hangs,
            DBody holds,
            Matrix4d at,
            Vector3d anchor,
            List<Leaning> leaning) {
        double lean = Math.PI;
        double least = -Math.PI;
        double most = Math.PI;
        int along = 1;
        for (RigidJoint.Limit limit : joint.limits()) {
            if (limit.turn() && Integer.bitCount(limit.axes()) == 2) {
                lean = Math.max(Math.abs(limit.least()), Math.abs(limit.most()));
                along = ALL - limit.axes();
            }
        }
        for (RigidJoint.Limit limit : joint.limits()) {
            if (limit.turn() && limit.axes() == along) {
                least = Math.max(-Math.PI, limit.least());
                most = Math.min(Math.PI, limit.most());
            }
        }
        DBallJoint made = OdeHelper.createBallJoint(world);
        made.attach(hangs, holds);
        made.setAnchor(anchor.x, anchor.y, anchor.z);
        if (lean < Math.PI || least > -Math.PI || most < Math.PI) {
            Vector3d axis = at.getColumn(along >> 1, new Vector3d()).normalize();
            leaning.add(new Leaning(world, hangs, holds, axis, lean, least, most));
        }
    }
}
