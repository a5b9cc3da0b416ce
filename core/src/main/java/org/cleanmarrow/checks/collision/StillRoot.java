package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.collision.SetBody;

/** Joined free bodies of which none hangs on anything that stays: all of them fall. */
public final class StillRoot implements Check {
    @Override
    public String id() {
        return "still-root";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<RigidJoint> joints = Bodies.joints(asset);
        BitSet held = new BitSet();
        BitSet free = new BitSet();
        for (RigidBody body : Bodies.all(asset)) {
            (body.kind() == RigidBody.Kind.FREE ? free : held).set(body.node());
        }
        BitSet hanging = new BitSet();
        for (RigidJoint joint : joints) {
            hanging.set(joint.node());
            if (joint.other() < 0 || !free.get(joint.other()) && !held.get(joint.other())) {
                // In the world, or on a node that no force moves.
                held.set(joint.node());
            }
        }
        for (int before = -1; before < held.cardinality(); ) {
            before = held.cardinality();
            for (RigidJoint joint : joints) {
                if (joint.other() >= 0 && (held.get(joint.node()) || held.get(joint.other()))) {
                    held.set(joint.node());
                    held.set(joint.other());
                }
            }
        }
        List<Finding> out = new ArrayList<>();
        String[] refs = asset.nodeRefs();
        BitSet said = new BitSet();
        for (RigidJoint joint : joints) {
            int top = joint.other();
            if (top >= 0 && free.get(top) && !held.get(top) && !hanging.get(top) && !said.get(top)) {
                said.set(top);
                String ref = refs[top];
                out.add(Finding.of(this, Severity.CAUTION, "", ref, 1, ref)
                        .at(Finding.Place.node(top))
                        .fixedBy(new SetBody(NamePattern.exactly(ref), RigidBody.Kind.STILL, 0)));
            }
        }
        return out;
    }
}
