package org.cleanmarrow.checks.skin;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;

/**
 * Islands of influence: a joint moves a patch of a piece that does not hang together with what else it moves on that piece,
 * as a slip of a brush or a bind through air leaves them. Judged by
 * what taking it off would move and strain ({@link InfluenceFaults}).
 */
public final class WeightIslands implements Check {
    @Override
    public String id() {
        return "island";
    }

    @Override
    public Station station() {
        return Station.SKIN;
    }

    @Override
    public List<Finding> run(Examination examination) {
        return InfluenceFaults.findings(this, examination, true);
    }
}
