package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Work;

/**
 * Vertex caches that lie much nearer to the clip they were simulated on when they are shifted: they still have their lead-in, or
 * begin at another frame. What swings after its body is a frame or two late by nature, and is not named.
 */
public final class CacheShifted implements Check {
    private static final int LEAST = 4;
    /** As many times as far off as once it is shifted. */
    private static final double NEARER = 1.5;

    private static final Kept<Optional<FitCache.Late>> KEPT = new Kept<>(64);

    @Override
    public String id() {
        return "cache-shifted";
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
            if (!use.fits(asset) || CacheUnit.mixUp(asset, use).isPresent()) {
                continue;
            }
            String mesh = asset.meshRef(use.mesh());
            String clip = Inventory.clipRef(asset, use.clip());
            // Of all caches there are of these, the one that this clip plays at this node.
            List<Object> read = List.of(
                    asset.nodes(),
                    asset.meshes(),
                    asset.skins(),
                    asset.clips(),
                    asset.conventions(),
                    asset.clips().get(use.clip()),
                    asset.nodes().get(use.node()));
            Optional<FitCache.Late> late = KEPT.of(read, () -> FitCache.late(asset, mesh, clip, Work.QUIET));
            if (late.isPresent()
                    && Math.abs(late.get().frames()) >= LEAST
                    && late.get().asItIs() > NEARER * late.get().off()) {
                int frames = late.get().frames();
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                1,
                                clip,
                                mesh,
                                frames,
                                late.get().clip(),
                                new Length(late.get().off()),
                                new Length(late.get().asItIs()),
                                Math.abs(frames))
                        .at(Finding.Place.mesh(use.mesh(), new BitSet()))
                        .fixedBy(new FitCache(mesh, clip, "", 1, "x,y,z", String.valueOf(frames))));
            }
        }
        return out;
    }
}
