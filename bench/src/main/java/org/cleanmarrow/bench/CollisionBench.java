package org.cleanmarrow.bench;

import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.desktop.viewport.ShapeDrawing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.work.Work;

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
    }
}
