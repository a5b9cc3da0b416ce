package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
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

/** More triangles than the target takes, in one part or over all that are exported, each use of a mesh by itself. */
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
        List<Finding> out = new ArrayList<>();
        int mostAPart = (int) Math.min(Integer.MAX_VALUE, examination.target().most(Budget.PART_TRIANGLES));
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            int triangles = node.ships() && node.mesh() >= 0
                    ? asset.meshes().get(node.mesh()).triangleCount()
                    : 0;
            if (triangles > mostAPart) {
                String name = asset.meshRef(node.mesh());
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "part",
                                name,
                                triangles - mostAPart,
                                name,
                                said(triangles),
                                said(mostAPart))
                        .at(Finding.Place.node(n)));
            }
        }
        long most = (long) examination.target().most(Budget.TRIANGLES);
        long many = asset.nodes().stream()
                .filter(n -> n.ships() && n.mesh() >= 0)
                .mapToInt(Node::mesh)
                .mapToLong(m -> asset.meshes().get(m).triangleCount())
                .sum();
        if (many > most) {
            out.add(Finding.of(this, Severity.BLOCKER, "", "", many - most, said(many), said(most)));
        }
        return out;
    }

    private static String said(long number) {
        return String.format(Locale.ROOT, "%,d", number);
    }
}
