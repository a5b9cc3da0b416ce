package org.cleanmarrow.steps;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Node;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;
import org.cleanmarrow.trial.Swing;

/** Says about which of its own axes a hinged joint turns, and how far. It is kept with the joint and delivered with it. */
@StepInfo(name = "set-swing", says = "Says how far a hinged joint turns about one of its own axes.")
public record SetSwing(
        @Parameter(says = "the joint") String joint,
        @Parameter(says = "the joint's own axis") Axis axis,

        @Parameter(says = "least angle from rest in degrees, -360 to 360")
        double from,

        @Parameter(says = "greatest angle from rest in degrees, -360 to 360")
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
        return Change.of(asset.withNodes(nodes)).count("limits kept", 1);
    }
}
