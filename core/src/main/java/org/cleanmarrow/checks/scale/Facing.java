package org.cleanmarrow.checks.scale;

import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.steps.scale.FaceForward;

/**
 * A body that lies, stands on its head or faces elsewhere than its conventions say, by its own evidence: everything that
 * is done by sides, such as poses and mirroring, would go wrong on it.
 */
public final class Facing implements Check {
    @Override
    public String id() {
        return "facing";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Body.Frame frame = examination.body().frame();
        if (!frame.known()) {
            return List.of();
        }
        Conventions is = examination.asset().conventions();
        Optional<Axis> up = Body.Frame.axis(frame.up());
        Optional<Axis> forward = Body.Frame.axis(frame.forward());
        if (up.isEmpty() || forward.isEmpty()) {
            // A body that leans or turns is posed; only quarter turns are a mistake that can be named.
            return List.of();
        }
        boolean lies = up.get() != is.up();
        if (!lies && forward.get() == is.forward()) {
            return List.of();
        }
        Finding finding = Finding.of(
                this,
                Severity.CAUTION,
                lies ? "lies" : "",
                "",
                1,
                examination.body().kind().code(),
                lies ? up.get().code() : forward.get().code(),
                lies ? is.up().code() : is.forward().code());
        return List.of(examination.frozen().isPresent() ? finding.fixedBy(new FaceForward()) : finding);
    }
}
