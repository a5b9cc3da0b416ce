package org.cleanmarrow.checks.intake;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.query.Extensions;

/** Extensions in use that the target does not name. */
public final class ExtensionsAllowed implements Check {
    @Override
    public String id() {
        return "extensions-allowed";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        if (examination.target().rules().extensions().isEmpty()) {
            return List.of();
        }
        Set<String> others = new TreeSet<>(Extensions.of(examination.asset()));
        others.removeAll(Set.copyOf(examination.target().rules().extensions().get()));
        return others.isEmpty()
                ? List.of()
                : List.of(Finding.of(
                        this,
                        Severity.BLOCKER,
                        "",
                        others.iterator().next(),
                        others.size(),
                        others.size(),
                        String.join(", ", others)));
    }
}
