package org.cleanmarrow.checks.skeleton;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skeleton.UniqueJointNames;

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
        List<Finding> out = new ArrayList<>();
        byName.forEach((name, nodes) -> {
            if (!name.isEmpty() && nodes.size() < 2) {
                return;
            }
            int last = nodes.getLast();
            Finding finding = name.isEmpty()
                    ? Finding.of(this, Severity.CAUTION, "none", "#" + last, nodes.size(), nodes.size())
                    : Finding.of(this, Severity.BLOCKER, "", name, nodes.size(), nodes.size(), name);
            out.add(finding.at(Finding.Place.node(last)).fixedBy(new UniqueJointNames()));
        });
        return out;
    }
}
