package org.cleanmarrow.bench;

import org.cleanmarrow.collision.Overlaps;
import org.cleanmarrow.demo.pilot.FerryPilot;
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
