package org.cleanmarrow.demo.ferry;

import java.util.List;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;

/**
 * The pilot put right, in metres with Y up, and in the float vest; the vest is a loose part that moves with nothing yet,
 * to be given the weights of the body below it.
 */
public final class VestedPilot {
    private static final int MOST_FIXES = 24;

    private VestedPilot() {}

    public static Asset asset() {
        return Made.ASSET;
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final Asset ASSET = make();
    }

    private static Asset make() {
        Target target = Target.of(Conventions.GLTF);
        Asset pilot = FerryPilot.asset();
        try {
            for (int i = 0; i < MOST_FIXES; i++) {
                List<Step> fixes = Checks.run(pilot, target, Work.QUIET).stream()
                        .map(Finding::fix)
                        .flatMap(java.util.Optional::stream)
                        .toList();
                if (fixes.isEmpty()) {
                    break;
                }
                pilot = fixes.getFirst().apply(pilot, Work.QUIET).asset();
            }
            return Join.of(pilot, FloatVest.worn(), Work.QUIET)
                    .withName("vested-pilot")
                    .withNotes(List.of());
        } catch (Refused e) {
            throw new IllegalStateException(e);
        }
    }
}
