package org.cleanmarrow.checks.scale;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.text.Message;

/** Unit, axes or handedness that are not the target's. */
public final class ConventionsDiffer implements Check {
    @Override
    public String id() {
        return "axes";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Conventions is = examination.asset().conventions();
        Conventions wanted = examination.target().conventions();
        if (is.equals(wanted)) {
            return List.of();
        }
        List<Message> differences = new ArrayList<>();
        if (is.up() != wanted.up()) {
            differences.add(
                    Message.of("check.axes.up", is.up().code(), wanted.up().code()));
        }
        if (is.handedness() != wanted.handedness()) {
            differences.add(Message.of(
                    "check.axes.hand",
                    is.handedness().code(),
                    wanted.handedness().code()));
        }
        if (is.forward() != wanted.forward()) {
            differences.add(Message.of(
                    "check.axes.forward", is.forward().code(), wanted.forward().code()));
        }
        if (is.metresPerUnit() != wanted.metresPerUnit()) {
            differences.add(Message.of("check.axes.unit", unit(is), unit(wanted)));
        }
        return List.of(Finding.of(this, Severity.BLOCKER, "", "", differences.size(), differences)
                .fixedBy(new Convert(wanted, true)));
    }

    private static String unit(Conventions c) {
        return Units.shortName(c.metresPerUnit()).orElse(c.metresPerUnit() + " m");
    }
}
