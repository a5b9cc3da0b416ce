package org.cleanmarrow.checks.caches;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.surface.Strands;

/** Parts of lines alone, which engines do not draw: strands of which no geometry was made. */
public final class StrandsBare implements Check {
    @Override
    public String id() {
        return "strands-bare";
    }

    @Override
    public Station station() {
        return Station.CACHES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (Strands.Count count : Strands.counts(asset)) {
            int mesh = asset.nodes().get(count.node()).mesh();
            if (asset.nodes().get(count.node()).ships()
                    && asset.meshes().get(mesh).triangleCount() == 0) {
                String ref = asset.nodeRef(count.node());
                out.add(Finding.of(this, Severity.CAUTION, "", ref, 1, ref, count.curves())
                        .at(Finding.Place.mesh(mesh, new BitSet()).withNode(count.node())));
            }
        }
        return out;
    }
}
