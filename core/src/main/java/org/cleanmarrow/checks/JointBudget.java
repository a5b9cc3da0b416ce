package org.cleanmarrow.checks;

import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.TrimIdle;

/** A skeleton with more joints than the target takes. */
final class JointBudget implements Check {
    @Override
    public String id() {
        return "joint-budget";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int most = examination.target().joints();
        int joints = 0;
        for (boolean joint : asset.jointFlags()) {
            joints += joint ? 1 : 0;
        }
        if (joints <= most) {
            return List.of();
        }
        int bearing = org.cleanmarrow.asset.Skeletons.bearing(asset).cardinality();
        return List.of(Finding.of(this, Severity.BLOCKER, "", "", joints - most, joints, most, bearing)
                .fixedBy(new TrimIdle("")));
    }
}
