package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Node;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.steps.Rename;

/** Joints that share a name, or have none: receiving sides find joints by name. */
public final class JointsNamedTwice implements Check {
    @Override
    public String id() {
        return "joint-names";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        boolean[] joint = asset.jointFlags();
        Map<String, List<Integer>> byName = new LinkedHashMap<>();
        for (int n = 0; n < joint.length; n++) {
            if (joint[n]) {
                byName.computeIfAbsent(asset.nodes().get(n).name(), k -> new ArrayList<>())
                        .add(n);
            }
        }
        Set<String> taken = new HashSet<>();
        asset.nodes().stream().map(Node::name).forEach(taken::add);
        List<Finding> out = new ArrayList<>();
        byName.forEach((name, nodes) -> {
            if (!name.isEmpty() && nodes.size() < 2) {
                return;
            }
            int last = nodes.getLast();
            Finding finding = name.isEmpty()
                    ? Finding.of(this, Severity.CAUTION, "none", "#" + last, nodes.size(), nodes.size())
                    : Finding.of(this, Severity.BLOCKER, "", name, nodes.size(), nodes.size(), name);
            String base = name.isEmpty() ? "joint" : name;
            int number = 2;
            while (taken.contains(base + "_" + number)) {
                number++;
            }
            out.add(finding.at(Finding.Place.node(last))
                    .fixedBy(new Rename(Rename.Kind.NODE, "#" + last, base + "_" + number)));
        });
        return out;
    }
}
