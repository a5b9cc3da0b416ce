package org.cleanmarrow.checks.skin;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;

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
        return InfluenceFaults.findings(this, examination, false);
    }
}
