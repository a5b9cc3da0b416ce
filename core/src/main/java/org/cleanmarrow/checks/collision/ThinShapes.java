package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Length;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Free bodies all of whose solid shapes are thinner than a centimetre (common practice): in one step of a simulation such a one falls
 * through what it should lie on.
 */
public final class ThinShapes implements Check {
    private static final double LEAST_METRES = 0.01;

    @Override
    public String id() {
        return "shape-thin";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Matrix4d[] world = examination.world();
        int[] bearers = Bodies.bearers(asset, Bodies.nodes(asset));
        Map<Integer, Double> thickest = new HashMap<>();
        for (Collider c : Bodies.colliders(asset)) {
            if (c.role() == Collider.Role.SOLID) {
                Vector3d size = Bodies.sizeMetres(asset, world, c);
                double thick =
                        c.shape() instanceof Shape.Drawn ? Double.POSITIVE_INFINITY : size.get(size.minComponent());
                thickest.merge(bearers[c.node()], thick, Math::max);
            }
        }
        List<Finding> out = new ArrayList<>();
        for (RigidBody body : Bodies.all(asset)) {
            double thick = thickest.getOrDefault(body.node(), Double.POSITIVE_INFINITY);
            if (body.kind() == RigidBody.Kind.FREE && thick < LEAST_METRES) {
                String ref = asset.nodeRef(body.node());
                out.add(Finding.of(this, Severity.CAUTION, "", ref, 1, ref, new Length(thick))
                        .at(Finding.Place.node(body.node())));
            }
        }
        return out;
    }
}
