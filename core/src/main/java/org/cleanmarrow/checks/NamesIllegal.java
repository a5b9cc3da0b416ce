package org.cleanmarrow.checks;

import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.AllNames;
import org.cleanmarrow.steps.LegalNames;
import org.cleanmarrow.steps.Rename;

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
