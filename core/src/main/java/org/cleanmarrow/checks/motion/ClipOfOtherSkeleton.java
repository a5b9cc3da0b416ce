package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;

/** A clip that moves nodes, but not one that any skin or mesh hangs on: it belongs to another skeleton. */
public final class ClipOfOtherSkeleton implements Check {
    @Override
    public String id() {
        return "other-skeleton";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        if (asset.skins().isEmpty()) {
            return List.of();
        }
        boolean[] matters = mattering(asset);
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            TreeSet<Integer> moved = new TreeSet<>();
            for (Channel channel : clip.channels()) {
                if (channel.node() >= 0) {
                    moved.add(channel.node());
                }
            }
            if (!moved.isEmpty() && moved.stream().noneMatch(n -> matters[n])) {
                String first = asset.nodeRef(moved.first());
                out.add(Finding.of(
                                this, Severity.BLOCKER, "", clip.name(), moved.size(), clip.name(), moved.size(), first)
                        .at(Finding.Place.clip(c)));
            }
        }
        return out;
    }

    /** Joints, nodes with a mesh or camera, and everything above them. */
    private static boolean[] mattering(Asset asset) {
        boolean[] matters = asset.jointFlags();
        int[] order = asset.topDown();
        int[] parents = asset.parents();
        for (int i = order.length - 1; i >= 0; i--) {
            Node node = asset.nodes().get(order[i]);
            matters[order[i]] |=
                    node.mesh() >= 0 || node.camera() >= 0 || !node.carried().isEmpty();
            if (parents[order[i]] >= 0) {
                matters[parents[order[i]]] |= matters[order[i]];
            }
        }
        return matters;
    }
}
