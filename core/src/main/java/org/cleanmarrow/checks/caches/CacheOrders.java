package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
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

/**
 * Caches with as many vertices as their mesh, in another order: their first frame has the mesh's places, but not the places of
 * the mesh's own numbers.
 */
public final class CacheOrders implements Check {
    /** In the right order it would lie this much nearer. */
    private static final double NEARER = 10;

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
            if (!use.fits(asset)) {
                continue;
            }
            float[] first = new float[use.track().width()];
            use.track().at(0, first);
            float[] rest = use.rest(asset);
            if (CacheOrder.isKept(rest, first, OrderCache.CLOSE)) {
                continue;
            }
            Optional<CacheOrder> found = CacheOrder.of(rest, first)
                    .filter(o -> o.fits(OrderCache.CLOSE))
                    .filter(o -> o.asItIs() > Math.max(OrderCache.CLOSE, NEARER * o.off()));
            if (found.isPresent()) {
                String mesh = asset.meshRef(use.mesh());
                String clip = Inventory.clipRef(asset, use.clip());
                out.add(Finding.of(this, Severity.BLOCKER, "", mesh, 1, clip, mesh)
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()))
                        .fixedBy(new OrderCache(mesh, clip)));
            }
        }
        return out;
    }
}
