package org.cleanmarrow.checks.intake;

import java.util.List;
import java.util.Locale;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;

/** More vertices than the target takes, counted over the parts that are exported, each use of a mesh by itself. */
public final class VertexBudget implements Check {
    @Override
    public String id() {
        return "vertex-budget";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        long most = (long) examination.target().most(Budget.VERTICES);
        long many = asset.nodes().stream()
                .filter(n -> n.ships() && n.mesh() >= 0)
                .mapToInt(Node::mesh)
                .mapToLong(m -> asset.meshes().get(m).vertexCount())
                .sum();
        if (many <= most) {
            return List.of();
        }
        return List.of(Finding.of(
                this,
                Severity.BLOCKER,
                "",
                "",
                many - most,
                String.format(Locale.ROOT, "%,d", many),
                String.format(Locale.ROOT, "%,d", most)));
    }
}
