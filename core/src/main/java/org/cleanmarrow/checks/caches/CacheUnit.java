package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.steps.caches.FitCache;

/**
 * Vertex caches whose first frame is as many times as large as their mesh as one unit is of another. A cache may well be of
 * another size than the rest, so 15 in a hundred either way are allowed, and no other size is named.
 */
public final class CacheUnit implements Check {
    private static final double NEAR = 0.15;

    @Override
    public String id() {
        return "cache-unit";
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
            Optional<MixUps.MixUp> mixUp = use.fits(asset) ? mixUp(asset, use) : Optional.empty();
            if (mixUp.isPresent()) {
                String mesh = asset.meshRef(use.mesh());
                String clip = Inventory.clipRef(asset, use.clip());
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "",
                                mesh,
                                1,
                                clip,
                                mesh,
                                ratio(asset, use),
                                mixUp.get().was(),
                                mixUp.get().taken())
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()))
                        .fixedBy(new FitCache(mesh, clip, "", 0, "", "")));
            }
        }
        return out;
    }

    /** The units that were mixed up in a cache that fits its mesh; empty where it is about as large as its mesh, or of no known size. */
    static Optional<MixUps.MixUp> mixUp(Asset asset, CacheUse use) {
        double ratio = ratio(asset, use);
        return ratio > 0 ? MixUps.of(ratio, NEAR) : Optional.empty();
    }

    /** How many times as large as at rest its first frame is; 0 where it has no size. */
    private static double ratio(Asset asset, CacheUse use) {
        float[] first = new float[use.track().width()];
        use.track().at(0, first);
        double rest = diagonal(use.rest(asset));
        return rest > 0 ? diagonal(first) / rest : 0;
    }

    /** Of the box around points, 3 numbers each. */
    static double diagonal(float[] p) {
        Box box = Box.empty();
        box.grow(p);
        return box.diagonal();
    }
}
