package org.cleanmarrow.checks.skeleton;

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

/** Joints that the target asks for and that are not there, or hang on another than it says. */
public final class JointsNeeded implements Check {
    @Override
    public String id() {
        return "joints-needed";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Rules.Joint> asked = examination.target().rules().joints();
        boolean[] joints = asset.jointFlags();
        List<Finding> out = new ArrayList<>();
        int[] parents = asset.parents();
        List<String> missing = new ArrayList<>();
        for (Rules.Joint joint : asked) {
            int node = named(asset, joints, joint.name());
            if (node < 0) {
                missing.add(joint.name());
            } else if (!joint.parent().isEmpty()) {
                String parent = parents[node] < 0
                        ? ""
                        : asset.nodes().get(parents[node]).name();
                if (!parent.equals(joint.parent())) {
                    Finding finding = parent.isEmpty()
                            ? Finding.of(this, Severity.BLOCKER, "top", joint.name(), 1, joint.name(), joint.parent())
                            : Finding.of(
                                    this,
                                    Severity.BLOCKER,
                                    "parent",
                                    joint.name(),
                                    1,
                                    joint.name(),
                                    parent,
                                    joint.parent());
                    out.add(finding.at(Finding.Place.node(node)));
                }
            }
        }
        if (!missing.isEmpty() && asset.skins().stream().anyMatch(s -> s.joints().length > 0)) {
            out.addFirst(Finding.of(
                    this,
                    Severity.BLOCKER,
                    "",
                    missing.getFirst(),
                    missing.size(),
                    missing.size(),
                    String.join(", ", missing)));
        }
        return out;
    }

    private static int named(Asset asset, boolean[] joints, String name) {
        List<Node> nodes = asset.nodes();
        for (int n = 0; n < joints.length; n++) {
            if (joints[n] && nodes.get(n).name().equals(name)) {
                return n;
            }
        }
        return -1;
    }
}
