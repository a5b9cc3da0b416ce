package org.cleanmarrow.checks.intake;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Rules;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.naming.NamePattern;

/** Names that are not as the target asks for. */
public final class NamesAsked implements Check {
    @Override
    public String id() {
        return "names-asked";
    }

    @Override
    public Station station() {
        return Station.INTAKE;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (Rules.Names rule : examination.target().rules().names()) {
            NamePattern pattern = new NamePattern(rule.pattern());
            List<String> others = names(asset, rule.of()).stream()
                    .filter(n -> !pattern.fits(n))
                    .toList();
            if (!others.isEmpty()) {
                String first = others.getFirst();
                String variant = rule.of().name().toLowerCase(java.util.Locale.ROOT);
                Finding finding = Finding.of(
                        this, Severity.BLOCKER, variant, first, others.size(), others.size(), rule.pattern(), first);
                int node = rule.of() == Rules.Kind.NODE || rule.of() == Rules.Kind.JOINT ? asset.findNode(first) : -1;
                out.add(node < 0 ? finding : finding.at(Finding.Place.node(node)));
            }
        }
        return out;
    }

    private static List<String> names(Asset asset, Rules.Kind kind) {
        return switch (kind) {
            case NODE ->
                asset.nodes().stream().filter(Node::ships).map(Node::name).toList();
            case JOINT -> {
                boolean[] joints = asset.jointFlags();
                List<String> names = new ArrayList<>();
                for (int n = 0; n < joints.length; n++) {
                    if (joints[n]) {
                        names.add(asset.nodes().get(n).name());
                    }
                }
                yield names;
            }
            case MESH -> asset.meshes().stream().map(m -> m.name()).toList();
            case MATERIAL -> asset.materials().stream().map(m -> m.name()).toList();
            case CLIP ->
                asset.clips().stream().filter(c -> c.ships()).map(c -> c.name()).toList();
        };
    }
}
