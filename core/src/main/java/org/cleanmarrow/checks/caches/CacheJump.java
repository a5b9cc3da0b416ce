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
 * Vertices of a cache that pop: that leave the way they were on, by the second difference of three frames, by more than a
 * twentieth of the mesh's size and more than four times as much as any vertex beside them.
 */
public final class CacheJump implements Check {
    private static final double SEEN = 0.05;
    private static final double BESIDE = 4;

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
        for (CacheUse use : CacheUse.all(asset)) {
            if (use.fits(asset) && use.track().times().length > 2) {
                popping(asset, use, out);
            }
        }
        return out;
    }

    private void popping(Asset asset, CacheUse use, List<Finding> out) {
        WeldedSurface surface = MeshTopology.of(asset.meshes().get(use.mesh()))
                .welded(asset.meshes().get(use.mesh()));
        double size = CacheUnit.diagonal(surface.positions());
        float[][] frames = {
            new float[use.track().width()], new float[use.track().width()], null
        };
        use.track().at(0, frames[0]);
        use.track().at(1, frames[1]);
        frames[2] = new float[use.track().width()];
        BitSet popped = new BitSet();
        int at = -1;
        double[] off = new double[surface.size()];
        for (int k = 2; k < use.track().times().length; k++) {
            use.track().at(k, frames[k % 3]);
            leaves(surface, frames[(k + 1) % 3], frames[(k + 2) % 3], frames[k % 3], off);
            for (int p = 0; p < off.length; p++) {
                if (off[p] > SEEN * size && off[p] > BESIDE * beside(surface, off, p)) {
                    popped.set(surface.vertexOf(p));
                    at = at < 0 ? k - 1 : at;
                }
            }
        }
        if (!popped.isEmpty()) {
            String mesh = asset.meshRef(use.mesh());
            int many = popped.cardinality();
            out.add(Finding.of(
                            this,
                            Severity.CAUTION,
                            "",
                            mesh,
                            many,
                            many,
                            mesh,
                            Inventory.clipRef(asset, use.clip()),
                            asset.clips().get(use.clip()).firstFrame() + at)
                    .at(Finding.Place.mesh(use.mesh(), popped)));
        }
    }

    private static void leaves(WeldedSurface surface, float[] was, float[] is, float[] next, double[] off) {
        for (int p = 0; p < off.length; p++) {
            double sum = 0;
            int v = 3 * surface.vertexOf(p);
            for (int i = v; i < v + 3; i++) {
                double bent = (double) was[i] - 2.0 * is[i] + next[i];
                sum += bent * bent;
            }
            off[p] = Math.sqrt(sum);
        }
    }

    private static double beside(WeldedSurface surface, double[] off, int p) {
        double most = 0;
        for (int e = surface.starts()[p]; e < surface.starts()[p + 1]; e++) {
            most = Math.max(most, off[surface.neighbours()[e]]);
        }
        return most;
    }
}
