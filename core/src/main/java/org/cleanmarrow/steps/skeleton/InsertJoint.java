package org.cleanmarrow.steps.skeleton;

import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Puts one joint between a joint and the one above it. It stands still there and moves no vertex yet. */
@StepInfo(name = "insert-joint", says = "Puts a joint between a joint and the one above it; nothing moves.")
public record InsertJoint(
        @Parameter(says = "the joint below") String below,

        @Parameter(says = "name of the new joint, not taken")
        String name,

        @Parameter(
                says = "where on the bone: 0 at the joint above, 1 at the joint below",
                fallback = "0.5",
                least = 0,
                most = 1)
        double share)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int child = Names.node(asset, below);
        int above = asset.parents()[child];
        boolean[] joint = asset.jointFlags();
        if (above < 0 || !joint[above] || !joint[child]) {
            throw new Refused("split.no.bone", asset.nodeRef(child));
        }
        if (!(share >= 0 && share <= 1)) {
            throw new Refused("insert.share", share);
        }
        if (name.isBlank()) {
            throw new Refused("name.taken", name);
        }
        return Change.of(SplitJoint.put(asset, child, List.of(name), new double[] {share}))
                .count("joints.put.in", 1);
    }
}
