package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;

/**
 * A joint that reaches over to a piece which others move: a strap that follows the arm it lies beside. Judged by
 * what taking it off would move and strain ({@link InfluenceFaults}).
 */
public final class WeightLeaks implements Check {
    @Override
    public String id() {
        return "leak";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (InfluenceFaults.Fault fault : SkinnedMeshes.faults(examination)) {
            if (!fault.own()) {
                String name = asset.meshRef(fault.mesh());
                out.add(Finding.of(
                                this,
                                Severity.CAUTION,
                                "",
                                name,
                                fault.vertices().cardinality(),
                                fault.vertices().cardinality(),
                                name,
                                asset.nodeRef(fault.joint()),
                                fault.moved() < 0 ? "–" : asset.nodeRef(fault.moved()))
                        .at(Finding.Place.mesh(fault.mesh(), fault.vertices()).withNode(fault.joint()))
                        .fixedBy(fault.fix()));
            }
        }
        return out;
    }
}
