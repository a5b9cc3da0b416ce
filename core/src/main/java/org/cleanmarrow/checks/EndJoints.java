package org.cleanmarrow.checks;

import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Skeletons;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.TrimEnds;

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
