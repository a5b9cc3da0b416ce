package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheOrder;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.steps.caches.OrderCache;
import org.cleanmarrow.work.Kept;

/**
 * Caches with as many vertices as their mesh, in another order: their first frame has the mesh's places, but not the places of
 * the mesh's own numbers.
 */
public final class CacheOrders implements Check {
    /** In the right order it would lie this much nearer. */
    private static final double NEARER = 10;

    private static final Kept<Boolean> KEPT = new Kept<>(64);

    @Override
    public String id() {
        return "cache-order";
    }

    @Override
    public Station station() {
        return Station.CACHES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (CacheUse use : CacheUse.all(asset)) {
            if (use.fits(asset) && isElsewhere(asset, use)) {
                String mesh = asset.meshRef(use.mesh());
                String clip = Inventory.clipRef(asset, use.clip());
                out.add(Finding.of(this, Severity.BLOCKER, "", mesh, 1, clip, mesh)
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()))
                        .fixedBy(new OrderCache(mesh, clip)));
            }
        }
        return out;
    }

    /** Whether the first frame of a cache has the places of its mesh, but not under the mesh's own numbers. */
    static boolean isElsewhere(Asset asset, CacheUse use) {
        List<Object> read = List.of(
                asset.nodes(),
                asset.meshes(),
                asset.skins(),
                use.track(),
                asset.nodes().get(use.node()));
        return KEPT.of(read, () -> {
            float[] first = new float[use.track().width()];
            use.track().at(0, first);
            float[] rest = use.rest(asset);
            return !CacheOrder.isKept(rest, first, OrderCache.CLOSE)
                    && CacheOrder.of(rest, first)
                            .filter(o -> o.fits(OrderCache.CLOSE))
                            // Not a number where there are not as many: no order is theirs then.
                            .filter(o -> !(o.asItIs() <= Math.max(OrderCache.CLOSE, NEARER * o.off())))
                            .isPresent();
        });
    }
}
