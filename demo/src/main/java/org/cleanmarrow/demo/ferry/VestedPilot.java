package org.cleanmarrow.demo.ferry;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.ShapeFit;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.steps.collision.FitShapes;
import org.cleanmarrow.steps.collision.StandIn;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;

/**
 * The pilot put right, in metres with Y up, and in the float vest; the vest is a loose part that moves with nothing yet,
 * to be given the weights of the body below it.
 */
public final class VestedPilot {
    private static final int MOST_FIXES = 24;

    /** Metres below the cape's highest place. */
    private static final float PINNED = 0.1f;

    private VestedPilot() {}

    public static Asset asset() {
        return Made.ASSET;
    }

    /** Made when it is first asked for. */
    private static final class Made {
        static final Asset ASSET = make();
    }

    /** The cape as cloth: stiff oilskin, pinned at the shoulders, free over a hand's breadth below them. */
    private static Asset hanging(Asset pilot) throws Refused {
        Mesh cape = pilot.meshes().get(pilot.findMesh("cape"));
        float[] rest = MeshTopology.restPositions(cape);
        float top = Float.NEGATIVE_INFINITY;
        for (int v = 0; v < rest.length / 3; v++) {
            top = Math.max(top, rest[3 * v + 1]);
        }
        BitSet shoulders = new BitSet();
        for (int v = 0; v < rest.length / 3; v++) {
            shoulders.set(v, rest[3 * v + 1] > top - PINNED);
        }
        Asset cloth = new SetCloth("cape", 0.4, 6, 0, 5e-4, 0.8, 0.5, 1, 40, false, true)
                .apply(pilot, Work.QUIET)
                .asset();
        VertexSet pinned = VertexSet.chosen(cloth.meshes().get(cloth.findMesh("cape")), shoulders);
        return new SetStray("cape", pinned, 0, 5).apply(cloth, Work.QUIET).asset();
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
            Asset colliding = Colliding.by(
                    pilot,
                    new FitShapes("*", ShapeFit.Kind.CAPSULE, 0.98, 24, FitShapes.Set.BODY),
                    new StandIn("lantern", StandIn.Kind.CAPSULE));
            Asset vested = Join.of(colliding, FloatVest.worn(), Work.QUIET);
            // Until it moves with the body nothing should stand for it but rays.
            StandIn seen = new StandIn("float_vest", StandIn.Kind.DRAWN, 0, Collider.Role.QUERY, 32, 8);
            return hanging(seen.apply(vested, Work.QUIET).asset())
                    .withName("vested-pilot")
                    .withNotes(List.of());
        } catch (Refused e) {
            throw new IllegalStateException(e);
        }
    }
}
