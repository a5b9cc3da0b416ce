package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.demo.ferry.BellChain;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** The sixteen shapes of a person, and those of what hangs from him. */
public class PersonShapesTest {
    private static Asset fitted(Asset asset) throws Refused {
        return new FitShapes("*", ShapeFit.Kind.SPHERE, 1, 24, FitShapes.Set.BODY)
                .apply(asset, Work.QUIET)
                .asset();
    }

    @Test
    public void fingersToesCollarsAndTwistJointsBelongToTheirLimb() throws Refused {
        Asset pilot = fitted(VestedPilot.asset().withAttached(List.of()));
        List<String> names = Bodies.colliders(pilot).stream()
                .map(c -> pilot.nodes().get(c.node()).name())
                .toList();
        assertThat(names)
                .containsExactlyInAnyOrder(
                        "hips",
                        "waist",
                        "ribs_upper",
                        "head",
                        "left_upper_arm",
                        "left_forearm",
                        "left_hand",
                        "right_upper_arm",
                        "right_forearm",
                        "right_hand",
                        "left_thigh",
                        "left_shin",
                        "left_foot",
                        "right_thigh",
                        "right_shin",
                        "right_foot",
                        "scarf_tail",
                        "cape_1",
                        "cape_2",
                        "cape_3");
        assertThat(vertices(pilot, "left_hand", "left_(hand|thumb|index|middle|ring|little).*"))
                .isGreaterThan(200);
        assertThat(vertices(pilot, "right_foot", "right_(foot|toes)")).isGreaterThan(50);
        assertThat(vertices(pilot, "left_upper_arm", "left_(upper_arm|arm_twist)"))
                .isGreaterThan(50);
        assertThat(vertices(pilot, "ribs_upper", "neck|left_collar|right_collar|ribs_upper"))
                .isGreaterThan(50);
    }

    /** How many vertices joints move most, all of them within the sphere of one joint: by their distances alone. */
    private static int vertices(Asset asset, String joint, String joints) {
        Matrix4d[] world = new Rig(asset).rest().world();
        Collider sphere = Bodies.colliders(asset).stream()
                .filter(c -> asset.nodes().get(c.node()).name().equals(joint))
                .findFirst()
                .orElseThrow();
        Vector3d centre =
                world[sphere.node()].transformPosition(new Vector3d(sphere.at().origin()));
        double radius = ((Shape.Sphere) sphere.shape()).radius() * world[sphere.node()].getScale(new Vector3d()).x;
        Deformer deformer = new Deformer(asset);
        int found = 0;
        for (MeshPlace place : deformer.places()) {
            if (place.skin() < 0) {
                continue;
            }
            float[] p = deformer.positions(place, new Rig(asset).rest());
            int v = 0;
            for (Primitive part : asset.meshes().get(place.mesh()).primitives()) {
                Influences rows = part.influences();
                for (int i = 0; i < part.vertexCount(); i++, v++) {
                    int heaviest = -1;
                    float most = 0;
                    for (int e = rows.offsets()[i]; e < rows.offsets()[i + 1]; e++) {
                        if (rows.weights()[e] > most) {
                            most = rows.weights()[e];
                            heaviest = asset.skins().get(place.skin()).joints()[rows.joints()[e]];
                        }
                    }
                    if (heaviest >= 0 && asset.nodes().get(heaviest).name().matches(joints)) {
                        found++;
                        assertThat(centre.distance(p[v * 3], p[v * 3 + 1], p[v * 3 + 2]))
                                .as(joint)
                                .isLessThanOrEqualTo(radius * 1.0001);
                    }
                }
            }
        }
        return found;
    }

    @Test
    public void whatIsNobodyIsRefused() {
        assertThatThrownBy(() -> fitted(BellChain.asset()))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("no person");
    }
}
