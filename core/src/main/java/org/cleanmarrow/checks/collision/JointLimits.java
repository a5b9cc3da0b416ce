package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;

/**
 * Joints of bodies that stand outside their limits at rest, from where a solver throws them back at once, or that pull towards a
 * place beyond them for ever.
 */
public final class JointLimits implements Check {
    /** Rounding of files, radians or units. */
    private static final double NEAR = 1e-4;

    @Override
    public String id() {
        return "joint-limits";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (RigidJoint joint : Bodies.joints(asset)) {
            String what = fault(joint);
            if (!what.isEmpty()) {
                String ref = asset.nodeRef(joint.node());
                out.add(Finding.of(this, Severity.CAUTION, what, ref, 1, ref).at(Finding.Place.node(joint.node())));
            }
        }
        return out;
    }

    private static String fault(RigidJoint joint) {
        for (RigidJoint.Limit limit : joint.limits()) {
            if (limit.least() > limit.most()) {
                return "crossed";
            }
            // At rest both frames are one, so all angles and places are 0.
            if (limit.least() > NEAR || limit.most() < -NEAR) {
                return "rest";
            }
        }
        for (RigidJoint.Drive drive : joint.drives()) {
            for (RigidJoint.Limit limit : joint.limits()) {
                boolean same = limit.turn() == drive.turn() && limit.axes() == 1 << drive.axis();
                boolean beyond = drive.position() > limit.most() + NEAR || drive.position() < limit.least() - NEAR;
                if (same && beyond && drive.stiffness() > 0) {
                    return "drive";
                }
            }
        }
        return "";
    }
}
