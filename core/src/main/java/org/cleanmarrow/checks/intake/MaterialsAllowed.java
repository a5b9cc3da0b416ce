package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.naming.NamePattern;

/** Materials on what is exported whose names the target does not know. */
public final class MaterialsAllowed implements Check {
    @Override
    public String id() {
        return "materials-allowed";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        if (examination.target().rules().materials().isEmpty()) {
            return List.of();
        }
        String asked = examination.target().rules().materials().get();
        NamePattern pattern = new NamePattern(asked);
        List<String> others = examination.painted().materials().stream()
                .mapToObj(m -> asset.materials().get(m).name())
                .filter(n -> !pattern.fits(n))
                .toList();
        return others.isEmpty()
                ? List.of()
                : List.of(Finding.of(
                        this,
                        Severity.BLOCKER,
                        "",
                        others.getFirst(),
                        others.size(),
                        others.size(),
                        others.getFirst(),
                        asked));
    }
}
