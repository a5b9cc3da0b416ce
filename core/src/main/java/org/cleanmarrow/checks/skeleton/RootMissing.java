package org.cleanmarrow.checks.skeleton;

import java.util.List;
import org.cleanmarrow.edit.NewNodes;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.joml.Vector3d;

/** A skeleton without one root joint at the origin, unturned and of scale one. */
public final class RootMissing implements Check {
    @Override
    public String id() {
        return "root";
    }

    @Override
    public Station station() {
        return Station.SKELETON;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Integer> tops = Skeletons.tops(asset);
        if (tops.isEmpty() || AddRoot.hasCleanRoot(asset)) {
            return List.of();
        }
        String first = asset.nodeRef(tops.getFirst());
        Finding finding = tops.size() > 1
                ? Finding.of(this, Severity.BLOCKER, "several", first, tops.size(), tops.size(), first)
                : Finding.of(this, Severity.BLOCKER, "", first, 1, first);
        return List.of(finding.at(Finding.Place.node(tops.getFirst()))
                .fixedBy(new AddRoot(
                        NewNodes.free(asset, "root"),
                        examination.frozen().isPresent() && handsDown(examination, tops))));
    }

    /** True where what stands above a top would leave a scale in it. */
    private static boolean handsDown(Examination examination, List<Integer> tops) {
        int[] parents = examination.asset().parents();
        return tops.stream()
                .filter(t -> parents[t] >= 0)
                .map(t -> examination.world()[parents[t]].getScale(new Vector3d()))
                .anyMatch(s -> !s.equals(new Vector3d(1), 1e-4));
    }
}
