package org.cleanmarrow.steps;

import java.util.List;
import org.cleanmarrow.step.Step;

/** Every step there is; a new one is added by its line here. */
public final class Steps {
    public static final List<Class<? extends Step>> ALL = List.of(
            DeclareConventions.class,
            Convert.class,
            FreezeNodes.class,
            Rename.class,
            AddRoot.class,
            TrimEnds.class,
            SetWeight.class,
            TakeOffJoint.class,
            LimitInfluences.class,
            NormaliseWeights.class,
            GiveStrays.class,
            RemoveLostChannels.class);

    private Steps() {}
}
