package org.cleanmarrow.bench;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.Shape;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.viewport.ShapeDrawing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.steps.collision.SimulateBodies;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;
import org.joml.Vector3d;

/** Shapes fitted and parted. */
final class CollisionBench {
    private CollisionBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Collision");
        report.within(
                "fit shapes to 200 joints, 100,000 vertices",
                Timing.of(1, 3, () -> new FitShapes().apply(big, Work.QUIET)),
                2000);
        List<Collider> shapes = Bodies.colliders(new FitShapes("*", ShapeFit.Kind.CAPSULE, 0.98, 24)
                .apply(big, Work.QUIET)
                .asset());
        report.within(
                "outlines of " + shapes.size() + " capsules, as the view draws them",
                Timing.of(
                        20,
                        60,
                        () -> shapes.forEach(
                                c -> ShapeDrawing.ring(c.shape(), c.at().matrix(), Camera.front(), 640, 600))),
                1000 / 60.0);
        Asset pilot = new FitShapes().apply(FerryPilot.asset(), Work.QUIET).asset();
        report.within(
                "58 shapes of the pilot looked at in every frame of three clips",
                Timing.of(1, 3, () -> new Overlaps(pilot).worst(1, Work.QUIET)),
                1000);
        report.within(
                "the same parted, four times a frame",
                Timing.of(0, 1, () -> new ShapesApart().apply(pilot, Work.QUIET)),
                20_000);
        Asset heap = heap();
        report.within(
                "200 boxes fall into a heap, 720 steps (goal: 60 a second)",
                Timing.of(0, 2, () -> new SimulateBodies("", 3, "").apply(heap, Work.QUIET)),
                12_000);
    }

    /** Boxes in eight layers above a floor, each turned a little. */
    private static Asset heap() {
        List<Node> nodes = new ArrayList<>(List.of(Node.group("floor", Local.at(0, -0.5, 0))));
        List<Attached> things = new ArrayList<>(List.of(
                new Collider("", 0, Frame.NONE, new Shape.Box(20, 1, 20)), new RigidBody(0, RigidBody.Kind.STILL, 0)));
        for (int i = 0; i < 200; i++) {
            Quaterniond turn = new Quaterniond().rotateXYZ(0.3 * i, 0.7 * i, 0.2 * i);
            Vector3d place = new Vector3d(0.5 * (i % 5), 0.4 + 0.5 * (i / 25), 0.5 * (i / 5 % 5));
            nodes.add(Node.group("box_" + i, Local.of(place, turn, new Vector3d(1))));
            things.add(new Collider("", i + 1, Frame.NONE, new Shape.Box(0.3, 0.2, 0.25)));
            things.add(new RigidBody(i + 1, RigidBody.Kind.FREE, 3));
        }
        return Asset.of("heap", Conventions.GLTF, nodes, List.of(), List.of(), List.of())
                .withAttached(things);
    }
}
