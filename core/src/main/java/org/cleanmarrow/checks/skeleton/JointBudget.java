package org.cleanmarrow.checks.skeleton;

import java.util.List;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.skeleton.TrimIdle;

/** A skeleton with more joints than the target takes. */
public final class JointBudget implements Check {
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
        int most = (int) Math.min(Integer.MAX_VALUE, examination.target().most(Budget.JOINTS));
        int joints = 0;
        for (boolean joint : asset.jointFlags()) {
            joints += joint ? 1 : 0;
        }
        if (joints <= most) {
            return List.of();
        }
        int bearing = Skeletons.bearing(asset).cardinality();
        return List.of(Finding.of(this, Severity.BLOCKER, "", "", joints - most, joints, most, bearing)
                .fixedBy(new TrimIdle("")));
    }
}
