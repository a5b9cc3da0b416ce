package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;

/**
 * Joints that lock the same two bodies twice, so that each undoes what the other does, that hang a body on itself, or that hold
 * nothing because neither body is free.
 */
public final class JointFights implements Check {
    @Override
    public String id() {
        return "joint-fights";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Map<Integer, RigidBody> bodies = Bodies.byNode(asset);
        int[] bearers = Bodies.bearers(asset, Bodies.nodes(asset));
        Map<List<Integer>, Integer> locked = new HashMap<>();
        List<Finding> out = new ArrayList<>();
        for (RigidJoint joint : Bodies.joints(asset)) {
            int a = bearers[joint.node()];
            int b = joint.other() < 0 ? -1 : bearers[joint.other()];
            String ref = asset.nodeRef(joint.node());
            boolean free = isFree(bodies, a) || isFree(bodies, b);
            int locks = joint.limits().stream()
                    .filter(l -> l.least() == l.most())
                    .mapToInt(l -> l.turn() ? l.axes() << 3 : l.axes())
                    .reduce(0, (x, y) -> x | y);
            List<Integer> pair = List.of(Math.min(a, b), Math.max(a, b));
            int before = locked.getOrDefault(pair, 0);
            locked.put(pair, before | locks);
            String what = a == b ? "itself" : !free ? "nothing" : (before & locks) != 0 ? "twice" : "";
            if (!what.isEmpty()) {
                String other = joint.other() < 0 ? "" : asset.nodeRef(joint.other());
                out.add(Finding.of(this, Severity.CAUTION, what, ref, 1, ref, other)
                        .at(Finding.Place.node(joint.node())));
            }
        }
        return out;
    }

    private static boolean isFree(Map<Integer, RigidBody> bodies, int node) {
        RigidBody body = bodies.get(node);
        return body != null && body.kind() == RigidBody.Kind.FREE;
    }
}
