package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.query.Painted;

/** More materials on what is exported than the target takes. */
public final class MaterialBudget implements Check {
    @Override
    public String id() {
        return "material-budget";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        long most = (long) examination.target().most(Budget.MATERIALS);
        long many = Painted.of(examination.asset()).materials().cardinality();
        return many <= most ? List.of() : List.of(Finding.of(this, Severity.BLOCKER, "", "", many - most, many, most));
    }
}
