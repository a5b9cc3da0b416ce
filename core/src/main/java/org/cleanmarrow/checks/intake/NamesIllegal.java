package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.intake.AllNames;
import org.cleanmarrow.steps.intake.LegalNames;
import org.cleanmarrow.steps.intake.Rename;

/** Names with signs that some engine or file system does not take: others than letters, digits, - . and _ of ASCII. */
public final class NamesIllegal implements Check {
    private static final int MOST = 63;

    @Override
    public String id() {
        return "names-illegal";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        long many = 0;
        String first = "";
        for (Rename.Kind kind : Rename.Kind.values()) {
            for (String name : AllNames.of(asset, kind)) {
                boolean legal = name.length() <= MOST && name.matches("[A-Za-z0-9_.-]*");
                many += legal ? 0 : 1;
                first = first.isEmpty() && !legal ? name : first;
            }
        }
        return many == 0
                ? List.of()
                : List.of(Finding.of(this, Severity.CAUTION, "", "", many, many, first)
                        .fixedBy(new LegalNames(MOST)));
    }
}
