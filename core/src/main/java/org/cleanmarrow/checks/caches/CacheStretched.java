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
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.surface.WeldedSurface;

/**
 * Caches in a frame of which the surface is torn long: the edges are a third longer than at rest in sum, with the cache as a whole
 * no larger than that. One that is as many times larger throughout is in another unit, and another check's.
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
        for (CacheUse use : CacheUse.all(asset)) {
            if (!use.fits(asset)) {
                continue;
            }
            WeldedSurface surface = MeshTopology.of(asset.meshes().get(use.mesh()))
                    .welded(asset.meshes().get(use.mesh()));
            double rest = edges(surface, surface.positions(), false);
            float[] at = new float[use.track().width()];
            double most = 0;
            int frame = 0;
            double first = 0;
            for (int k = 0; k < use.track().times().length && rest > 0; k++) {
                use.track().at(k, at);
                double share = edges(surface, at, true) / rest;
                first = k == 0 ? share : first;
                if (share > most) {
                    most = share;
                    frame = k;
                }
            }
            if (first > 0 && first < LARGER && most > LONGER * Math.max(1, first)) {
                String mesh = asset.meshRef(use.mesh());
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                mesh,
                                1,
                                mesh,
                                Inventory.clipRef(asset, use.clip()),
                                asset.clips().get(use.clip()).firstFrame() + frame,
                                most)
                        .at(Finding.Place.mesh(use.mesh(), new BitSet())));
            }
        }
        return out;
    }

    /** Twice the length of all edges. @param byVertex positions are one a vertex, not one a place */
    private static double edges(WeldedSurface surface, float[] at, boolean byVertex) {
        double sum = 0;
        for (int p = 0; p < surface.size(); p++) {
            int a = 3 * (byVertex ? surface.vertexOf(p) : p);
            for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
                int q = surface.neighbours()[e];
                int b = 3 * (byVertex ? surface.vertexOf(q) : q);
                double x = (double) at[a] - at[b];
                double y = (double) at[a + 1] - at[b + 1];
                double z = (double) at[a + 2] - at[b + 2];
                sum += Math.sqrt(x * x + y * y + z * z);
            }
        }
        return sum;
    }
}
