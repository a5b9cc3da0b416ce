package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
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
 * Masses that make a simulation unsteady: free bodies under a gram or over a thousand tonnes, and joined free bodies of which
 * one is more than ten times as heavy as the other (common practice: ten to one is where solvers that go from joint to joint
 * begin to stretch).
 */
public final class BodyMass implements Check {
    private static final double LEAST = 1e-3;
    private static final double MOST = 1e6;
    private static final double RATIO = 10;

    @Override
    public String id() {
        return "body-mass";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        String[] refs = asset.nodeRefs();
        Map<Integer, RigidBody> bodies = Bodies.byNode(asset);
        for (RigidBody body : Bodies.all(asset)) {
            double kilograms = body.mass().kilograms();
            if (isWeighed(body) && (kilograms < LEAST || kilograms > MOST)) {
                String ref = refs[body.node()];
                out.add(Finding.of(this, Severity.CAUTION, "range", ref, 1, ref, kilograms)
                        .at(Finding.Place.node(body.node())));
            }
        }
        for (RigidJoint joint : Bodies.joints(asset)) {
            Optional<RigidBody> a =
                    Optional.ofNullable(bodies.get(joint.node())).filter(BodyMass::isWeighed);
            Optional<RigidBody> b =
                    Optional.ofNullable(bodies.get(joint.other())).filter(BodyMass::isWeighed);
            if (a.isPresent() && b.isPresent()) {
                double x = a.get().mass().kilograms();
                double y = b.get().mass().kilograms();
                double ratio = Math.max(x / y, y / x);
                if (ratio > RATIO) {
                    int heavier = x > y ? joint.node() : joint.other();
                    int lighter = x > y ? joint.other() : joint.node();
                    String ref = refs[heavier];
                    out.add(Finding.of(this, Severity.CAUTION, "ratio", ref, 1, ref, refs[lighter], ratio)
                            .at(Finding.Place.node(heavier)));
                }
            }
        }
        return out;
    }

    private static boolean isWeighed(RigidBody body) {
        return body.kind() == RigidBody.Kind.FREE && body.mass().kilograms() > 0;
    }
}
