package org.cleanmarrow.checks.collision;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.text.Length;
import org.joml.Matrix4d;
import org.joml.Vector3d;

/**
 * Joints of bodies that lie far from what they join: from the box around the solid shapes of either body farther than that is
 * large. A body swings about such a joint like a stone on a rod that nobody sees.
 */
public final class JointApart implements Check {
    @Override
    public String id() {
        return "joint-apart";
    }

    @Override
    public Station station() {
        return Station.COLLISION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        Matrix4d[] world = examination.world();
        List<Finding> out = new ArrayList<>();
        Map<Integer, Box> boxes = boxes(asset, world);
        for (RigidJoint joint : Bodies.joints(asset)) {
            Vector3d pivot = world[joint.node()].transformPosition(
                    new Vector3d(joint.at().origin()));
            double worst = 0;
            int far = -1;
            for (int body : new int[] {joint.node(), joint.other()}) {
                Box box = boxes.get(body);
                double away = box == null ? 0 : away(box, pivot);
                if (box != null && away > box.diagonal() && away > worst) {
                    worst = away;
                    far = body;
                }
            }
            if (far >= 0) {
                String ref = asset.nodeRef(joint.node());
                Length length = new Length(worst * asset.conventions().metresPerUnit());
                out.add(Finding.of(this, Severity.CAUTION, "", ref, 1, ref, asset.nodeRef(far), length)
                        .at(Finding.Place.node(joint.node())));
            }
        }
        return out;
    }

    private static Map<Integer, Box> boxes(Asset asset, Matrix4d[] world) {
        int[] bearers = Bodies.bearers(asset, Bodies.nodes(asset));
        Map<Integer, Box> out = new HashMap<>();
        for (Collider c : Bodies.colliders(asset)) {
            float[] p = c.points();
            for (int i = 0; i < p.length && c.role() == Collider.Role.SOLID; i += 3) {
                Vector3d at = world[c.node()].transformPosition(new Vector3d(p[i], p[i + 1], p[i + 2]));
                out.computeIfAbsent(bearers[c.node()], n -> Box.empty()).grow(at.x, at.y, at.z);
            }
        }
        return out;
    }

    private static double away(Box box, Vector3d p) {
        Vector3d nearest = new Vector3d(p).max(new Vector3d(box.min())).min(new Vector3d(box.max()));
        return nearest.distance(p);
    }
}
