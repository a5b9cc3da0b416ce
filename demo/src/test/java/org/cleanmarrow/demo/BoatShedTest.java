package org.cleanmarrow.demo;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.ferry.BoatShed;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.ferry.VestedPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.SetBody;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.ShapesFromParts;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** The furnished shed made to collide, and shapes for who hangs and flies about it. */
public class BoatShedTest {
    private static Asset done(Asset asset, Step... steps) throws Refused {
        Asset out = asset;
        for (Step step : steps) {
            out = step.apply(out, Work.QUIET).asset();
        }
        return out;
    }

    private static List<Finding> collision(Asset asset) {
        return Checks.run(asset, Target.of(Conventions.GLTF), Work.QUIET).stream()
                .filter(f -> f.station() == Station.COLLISION)
                .toList();
    }

    private static Asset furnished() throws Refused {
        return done(
                BoatShed.asset(),
                new ShapesFromParts("*_collision", ShapesFromParts.Kind.MESH, Collider.Role.SOLID),
                new StandIn(
                        "*_oar, *_lantern, *_door, *_trestle, hoist_load, chest_lid, rope_coil", StandIn.Kind.PARTS),
                new FitShapes("crate_*", ShapeFit.Kind.BOX, 1, 24, FitShapes.Set.LOOSE),
                new FitShapes("cask_*", ShapeFit.Kind.HULL, 1, 255, FitShapes.Set.LOOSE),
                // The lid swings through the edge that it lies on.
                new ShapesApart(ShapesApart.By.IGNORE));
    }

    /** What stands for something is drawn no more, and everything collides; nothing else changed. */
    @Test
    public void everythingInItCollides() throws Refused {
        Asset shed = furnished();
        assertThat(shed.nodes()).extracting(Node::name).noneMatch(n -> n.endsWith("_collision"));
        assertThat(Bodies.colliders(shed))
                .extracting(c -> shed.nodes().get(c.node()).name())
                .contains("skiff", "chest", "shelves", "cask_4", "left_door");
        assertThat(collision(shed)).isEmpty();
        assertThat(MotionProbe.compare(BoatShed.asset(), shed, Work.QUIET).largestMetres())
                .isLessThan(1e-6);
        assertThat(shed.clips()).hasSize(6);
    }

    /** Crates and casks let go sink onto what they stand on and stay there; the hoist goes on by its clip. */
    @Test
    public void cratesAndCasksComeToRest() throws Refused {
        Asset shed =
                done(furnished(), new SetBody("crate_*, cask_*", RigidBody.Kind.FREE, 0, 300, 0.1, 0.1, 1, -1, -1));
        assertThat(collision(shed)).isEmpty();
        Change let = new SimulateBodies("hoist", 2, "", SimulateBodies.Floor.ZERO).apply(shed, Work.QUIET);
        Asset after = let.asset();
        Clip clip = after.clips().getLast();
        Rig rig = new Rig(after);
        for (RigidBody body : Bodies.all(after)) {
            Vector3d late = rig.at(clip, 2.5).world()[body.node()].getTranslation(new Vector3d());
            Vector3d end = rig.at(clip, 3).world()[body.node()].getTranslation(new Vector3d());
            Vector3d rest = rig.rest().world()[body.node()].getTranslation(new Vector3d());
            String name = after.nodes().get(body.node()).name();
            assertThat(end.distance(late)).as(name + " rests").isLessThan(0.005);
            assertThat(end.distance(rest)).as(name + " where it stood").isLessThan(0.08);
        }
    }

    /** The heron's neck is a chain of joints, its body is none; each link gets a capsule along it. */
    @Test
    public void theNeckIsAChain() throws Refused {
        Asset heron = done(
                MarshHeron.asset().withAttached(List.of()),
                new FitShapes("*", ShapeFit.Kind.CAPSULE, 0.98, 24, FitShapes.Set.CHAINS));
        assertThat(Bodies.colliders(heron))
                .extracting(c -> heron.nodes().get(c.node()).name())
                .contains("neck_1", "neck_4", "neck_7", "left_wing_2")
                .doesNotContain("body");
    }

    /** Pilot, heron and bridge have shapes that are sound and do not keep each other apart. */
    @Test
    public void pilotHeronAndBridgeHaveColliders() {
        for (Asset asset : List.of(VestedPilot.asset(), MarshHeron.asset(), LiftBridge.asset())) {
            assertThat(Bodies.colliders(asset)).hasSizeGreaterThan(6);
            assertThat(collision(asset)).isEmpty();
        }
    }
}
