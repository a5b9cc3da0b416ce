package org.cleanmarrow.checks.skeleton;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.skeleton.TrimEnds;

/** Joints at the ends of chains that move nothing. */
public final class EndJoints implements Check {
    @Override
    public String id() {
        return "end-joints";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        BitSet idle = Skeletons.idleEnds(asset);
        if (idle.isEmpty()) {
            return List.of();
        }
        int first = idle.nextSetBit(0);
        String name = asset.nodeRef(first);
        return List.of(Finding.of(this, Severity.CAUTION, "", name, idle.cardinality(), idle.cardinality(), name)
                .at(Finding.Place.node(first))
                .fixedBy(new TrimEnds()));
    }
}
