package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.steps.caches.OrderCache;

/** Vertex caches of another number of vertices than their mesh has, or none: they are not played. */
public final class CacheCount implements Check {
    @Override
    public String id() {
        return "cache-count";
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
                String mesh = asset.meshRef(use.mesh());
                Finding found = Finding.of(
                                this,
                                Severity.BLOCKER,
                                "",
                                mesh,
                                1,
                                Inventory.clipRef(asset, use.clip()),
                                use.track().vertices(),
                                mesh,
                                asset.meshes().get(use.mesh()).vertexCount())
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()));
                boolean seams = CacheOrders.isElsewhere(asset, use);
                out.add(seams ? found.fixedBy(new OrderCache(mesh, Inventory.clipRef(asset, use.clip()))) : found);
            }
        }
        return out;
    }
}
