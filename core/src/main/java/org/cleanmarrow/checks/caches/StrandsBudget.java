package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.caches.StrandsToMesh;
import org.cleanmarrow.surface.Strands;

/** Strands that even as ribbons, the plainest geometry there is of them, take more triangles than a part may have. */
public final class StrandsBudget implements Check {
    private static final int RIBBONS = 2;

    @Override
    public String id() {
        return "strands-budget";
    }

    @Override
    public Station station() {
        return Station.CACHES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        double most = Math.min(
                examination.target().most(Budget.PART_TRIANGLES),
                examination.target().most(Budget.TRIANGLES));
        List<Finding> out = new ArrayList<>();
        for (Strands.Count count : Strands.counts(asset)) {
            int mesh = asset.nodes().get(count.node()).mesh();
            long triangles = new StrandsToMesh("", RIBBONS, 1).foretold(count.curves());
            if (asset.nodes().get(count.node()).ships() && triangles > most) {
                String ref = asset.nodeRef(count.node());
                out.add(Finding.of(
                                this, Severity.CAUTION, "", ref, count.curves(), ref, count.curves(), triangles, (long)
                                        most)
                        .at(Finding.Place.mesh(mesh, new BitSet()).withNode(count.node())));
            }
        }
        return out;
    }
}
