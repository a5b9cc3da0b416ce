package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
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
 * Caches in a frame of which the surface is torn long: the edges are a third longer than at rest in sum, and than in the first
 * frame. One that is larger from the first frame on is in another unit, and another check's.
 */
public final class CacheStretched implements Check {
    private static final double LONGER = 1.3;
    private static final double LARGER = 1.5;

    @Override
    public String id() {
        return "cache-stretched";
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
            double begins = faults.begins();
            if (begins > 0 && begins < LARGER && faults.stretched() > LONGER * Math.max(1, begins)) {
                int clip = use.clip();
                String mesh = asset.meshRef(use.mesh());
                int frame = asset.clips().get(clip).firstFrame() + faults.longestAt();
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                1,
                                mesh,
                                Inventory.clipRef(asset, clip),
                                frame,
                                faults.stretched())
                        .at(Finding.Place.mesh(use.mesh(), new BitSet())));
            }
        }
        return out;
    }
}
