package org.cleanmarrow.checks.intake;

import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.steps.intake.MatchNames;

/** Meshes that are called something else than the node they stand at; some engines show the one, some the other. */
public final class NamesDiffer implements Check {
    @Override
    public String id() {
        return "names-differ";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        int first = -1;
        long many = 0;
        int[] uses = new int[asset.meshes().size()];
        asset.nodes().stream().filter(n -> n.mesh() >= 0).forEach(n -> uses[n.mesh()]++);
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            boolean alone = node.mesh() >= 0 && uses[node.mesh()] == 1;
            if (alone && !asset.meshes().get(node.mesh()).name().equals(node.name())) {
                many++;
                first = first < 0 ? n : first;
            }
        }
        if (many == 0) {
            return List.of();
        }
        String mesh = asset.meshes().get(asset.nodes().get(first).mesh()).name();
        return List.of(Finding.of(this, Severity.NOTE, "", "", many, many, asset.nodeRef(first), mesh)
                .at(Finding.Place.node(first))
                .fixedBy(new MatchNames(MatchNames.Keep.NODE)));
    }
}
