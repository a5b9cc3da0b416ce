package org.cleanmarrow.demo.ferry;

import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.collision.ShapesApart;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/** Gives demo assets what the engine bumps into. */
final class Colliding {
    private Colliding() {}

    /** Shapes by steps, those that lie in each other passing each other. */
    static Asset by(Asset asset, Step... steps) {
        Asset out = asset;
        try {
            for (Step step : steps) {
                out = step.apply(out, Work.QUIET).asset();
            }
            return new ShapesApart(ShapesApart.By.IGNORE).apply(out, Work.QUIET).asset();
        } catch (Refused e) {
            throw new IllegalStateException(e);
        }
    }
}
