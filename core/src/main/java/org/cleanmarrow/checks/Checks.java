package org.cleanmarrow.checks;

import java.util.List;
import org.cleanmarrow.check.Check;

/** Every check there is; a new one is added by its line here. */
public final class Checks {
    public static final List<Check> ALL = List.of(
            new NonFinite(),
            new SizeOutOfOrdinary(),
            new ConventionsDiffer(),
            new NodeTransforms(),
            new RootMissing(),
            new EndJoints(),
            new JointsNamedTwice(),
            new DegenerateBinds(),
            new StrayVertices(),
            new WeightSums(),
            new InfluenceCount(),
            new WeightLeaks(),
            new LostChannels(),
            new ClipOfOtherSkeleton());

    private Checks() {}
}
