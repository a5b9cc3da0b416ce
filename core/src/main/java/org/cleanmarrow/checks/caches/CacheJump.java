package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;

/**
 * Vertices of a cache that pop: that leave the way they were on, by the second difference of three frames, by more than a
 * twentieth of the mesh's size and more than four times as much as any vertex beside them.
 */
public final class CacheJump implements Check {
    @Override
    public String id() {
        return "cache-jump";
    }

    @Override
    public Station station() {
        return Station.CACHES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (Map.Entry<CacheUse, CacheFaults> each : CacheFaults.of(examination).entrySet()) {
            CacheUse use = each.getKey();
            CacheFaults faults = each.getValue();
            int many = faults.popped().cardinality();
            if (many > 0) {
                int clip = use.clip();
                String mesh = asset.meshRef(use.mesh());
                int frame = asset.clips().get(clip).firstFrame() + faults.poppedAt();
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                many,
                                many,
                                mesh,
                                Inventory.clipRef(asset, clip),
                                frame)
                        .at(Finding.Place.mesh(use.mesh(), faults.popped())));
            }
        }
        return out;
    }
}
