package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.joml.Vector3dc;

/**
 * Free bodies whose inertia is said and cannot be: of the moments about three axes none is larger than the other two together
 * (textbook), and none is 0. Or is so uneven, over 1000 to 1, that a solver spins the body up (common practice: a rod thirty times as
 * long as thick has 600 to 1).
 */
public final class BodyInertia implements Check {
    private static final double RATIO = 1000;
    private static final double ROUNDING = 1.001;

    @Override
    public String id() {
        return "body-inertia";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (RigidBody body : Bodies.all(asset)) {
            Vector3dc inertia = body.mass().inertia();
            if (body.kind() != RigidBody.Kind.FREE || !inertia.isFinite()) {
                continue;
            }
            double most = inertia.get(inertia.maxComponent());
            double sum = inertia.x() + inertia.y() + inertia.z();
            double least = Math.min(inertia.x(), Math.min(inertia.y(), inertia.z()));
            String what =
                    !(least > 0) || most > (sum - most) * ROUNDING ? "wrong" : most / least > RATIO ? "uneven" : "";
            if (!what.isEmpty()) {
                String ref = asset.nodeRef(body.node());
                out.add(Finding.of(this, Severity.CAUTION, what, ref, 1, ref, most, least)
                        .at(Finding.Place.node(body.node())));
            }
        }
        return out;
    }
}
