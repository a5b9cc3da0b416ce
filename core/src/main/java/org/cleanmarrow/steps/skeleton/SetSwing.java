package org.cleanmarrow.steps.skeleton;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Says about which of its own axes a hinged joint turns, and how far. It is kept with the joint and delivered with it. */
@StepInfo(name = "set-swing", says = "Says how far a hinged joint turns about one of its own axes.")
public record SetSwing(
        @Parameter(says = "the joint") String joint,
        @Parameter(says = "the joint's own axis") Axis axis,

        @Parameter(says = "least angle from rest", unit = "degrees", least = -360, most = 360)
        double from,

        @Parameter(says = "greatest angle from rest", unit = "degrees", least = -360, most = 360)
        double to)
        implements Step {
    /** Which axis. */
    public enum Axis {
        X,
        Y,
        Z
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int n = Names.node(asset, joint);
        if (!(from >= -360 && from <= to && to <= 360)) {
            throw new Refused("swing.angles", from, to);
        }
        List<Node> nodes = new ArrayList<>(asset.nodes());
        nodes.set(n, new Swing(axis.ordinal(), from, to).on(nodes.get(n)));
        return Change.of(asset.withNodes(nodes)).count("limits.kept", 1);
    }
}
