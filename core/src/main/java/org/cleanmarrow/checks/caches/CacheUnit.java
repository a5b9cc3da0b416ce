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
import org.cleanmarrow.model.VertexTrack;
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
            VertexTrack track = use.track();
            if (!use.fits(asset)) {
                continue;
            }
            float[] first = new float[track.width()];
            track.at(0, first);
            double rest = diagonal(use.rest(asset));
            double ratio = diagonal(first) / rest;
            Optional<MixUps.MixUp> mixUp = rest > 0 && ratio > 0 ? MixUps.of(ratio, NEAR) : Optional.empty();
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
                                ratio,
                                mixUp.get().was(),
                                mixUp.get().taken())
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()))
                        .fixedBy(new FitCache(mesh, clip, "", 0, "", "")));
            }
        }
        return out;
    }

    /** Of the box around points, 3 numbers each. */
    static double diagonal(float[] p) {
        Box box = Box.empty();
        box.grow(p);
        return box.diagonal();
    }
}
