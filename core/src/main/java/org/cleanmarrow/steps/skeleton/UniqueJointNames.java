package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Gives joints that have no name, or one that another node has too, names of their own; the first of a name keeps it. */
@StepInfo(name = "unique-joint-names", says = "Numbers joints that share a name, and names those that have none.")
public record UniqueJointNames() implements Step {
    @Override
    public Change apply(Asset asset, Work work) {
        boolean[] joint = asset.jointFlags();
        Set<String> all = new HashSet<>();
        asset.nodes().forEach(n -> all.add(n.name()));
        Set<String> seen = new HashSet<>();
        List<Node> nodes = new ArrayList<>(asset.nodes());
        long renamed = 0;
        for (int n = 0; n < joint.length; n++) {
            String name = nodes.get(n).name();
            if (joint[n] && (name.isEmpty() || !seen.add(name))) {
                String base = name.isEmpty() ? "joint" : name;
                int number = name.isEmpty() ? 1 : 2;
                while (!all.add(base + "_" + number)) {
                    number++;
                }
                nodes.set(n, nodes.get(n).withName(base + "_" + number));
                renamed++;
            }
        }
        return Change.of(renamed == 0 ? asset : asset.withNodes(nodes)).count("renamed", renamed);
    }
}
