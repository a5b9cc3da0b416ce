package org.cleanmarrow.checks.intake;

import java.util.List;
import java.util.Locale;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;

/** More triangles than the target takes, counted over the parts that are exported, each use of a mesh by itself. */
public final class TriangleBudget implements Check {
    @Override
    public String id() {
        return "triangle-budget";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int most = examination.target().triangles();
        long many = asset.nodes().stream()
                .filter(n -> n.ships() && n.mesh() >= 0)
                .mapToInt(Node::mesh)
                .mapToLong(m -> asset.meshes().get(m).triangleCount())
                .sum();
        if (many <= most) {
            return List.of();
        }
        return List.of(Finding.of(
                this,
                Severity.BLOCKER,
                "",
                "",
                (int) Math.min(Integer.MAX_VALUE, many - most),
                String.format(Locale.ROOT, "%,d", many),
                String.format(Locale.ROOT, "%,d", most)));
    }
}
