package org.cleanmarrow.checks.scale;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.query.PassthroughTransforms;

/** Extras and extensions with numbers that a conversion cannot know how to change. */
public final class UnreadTransforms implements Check {
    private static final int NAMED = 4;

    @Override
    public String id() {
        return "unread-transforms";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        List<String> found = PassthroughTransforms.in(examination.asset());
        boolean same =
                examination.asset().conventions().equals(examination.target().conventions());
        if (found.isEmpty() || same) {
            return List.of();
        }
        String names = String.join(", ", found.subList(0, Math.min(NAMED, found.size())));
        return List.of(Finding.of(this, Severity.CAUTION, "", "", found.size(), found.size(), names));
    }
}
