package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Work;

/**
 * A cache that goes through the body it lies on: a garment that came back from a simulation, in a frame of which the body stands
 * out of it by more than the target allows. What lies on what is told at rest, as for skinned garments.
 */
public final class CacheThrough implements Check {
    /** Frames looked at in a clip, evenly over it. */
    private static final int FRAMES = 24;

    private static final Kept<List<Through>> KEPT = new Kept<>(32);

    private record Through(int clip, int mesh, PokeThrough found) {}

    @Override
    public String id() {
        return "cache-through";
    }

    @Override
    public Station station() {
        return Station.CACHES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        double most = examination.target().most(Budget.POKE_MILLIMETRES);
        List<CacheUse> uses = Double.isInfinite(most) ? List.of() : CacheUse.all(asset);
        if (uses.isEmpty()) {
            return List.of();
        }
        List<Object> read = Kept.posed(asset, asset.clips());
        List<Finding> out = new ArrayList<>();
        for (Through each : KEPT.of(read, () -> all(asset, uses, examination.work()))) {
            PokeThrough.Moment worst = each.found.moments().getFirst();
            if (worst.deepest() * 1000 > most) {
                Clip clip = asset.clips().get(each.clip);
                String mesh = asset.meshRef(each.mesh);
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                worst.vertices().cardinality(),
                                mesh,
                                asset.meshRef(each.found.body()),
                                each.found.moments().size(),
                                each.found.looked() - 1,
                                Inventory.clipRef(asset, each.clip),
                                new Length(worst.deepest()),
                                clip.firstFrame() + Math.round(worst.seconds() * clip.rate()))
                        .at(Finding.Place.mesh(
                                each.found.body(), (BitSet) worst.vertices().clone())));
            }
        }
        return out;
    }

    private static List<Through> all(Asset asset, List<CacheUse> uses, Work work) {
        List<Through> out = new ArrayList<>();
        for (CacheUse use : uses) {
            for (int body = 0; body < asset.meshes().size(); body++) {
                boolean other = body != use.mesh() && asset.meshes().get(body).skinned() && asset.skinOfMesh(body) >= 0;
                if (other) {
                    PokeThrough.inClip(asset, body, use.mesh(), use.clip(), FRAMES, work)
                            .filter(p -> !p.moments().isEmpty())
                            .ifPresent(p -> out.add(new Through(use.clip(), use.mesh(), p)));
                }
            }
        }
        return out;
    }
}
