package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Target;
import org.cleanmarrow.step.Work;

/** Every check there is; a new one is added by its line here. */
public final class Checks {
    public static final List<Check> ALL = List.of(
            new NonFinite(),
            new NamesIllegal(),
            new NamesDiffer(),
            new LodsTogether(),
            new DuplicateContent(),
            new SizeOutOfOrdinary(),
            new ConventionsDiffer(),
            new NodeTransforms(),
            new ClipSize(),
            new UnreadTransforms(),
            new RootMissing(),
            new EndJoints(),
            new JointsNamedTwice(),
            new DegenerateBinds(),
            new BindsDiffer(),
            new JointBudget(),
            new RolesSound(),
            new StrayVertices(),
            new WeightSums(),
            new SeamsOpen(),
            new InfluenceCount(),
            new WeightLeaks(),
            new WeightIslands(),
            new LostChannels(),
            new ClipOfOtherSkeleton());

    private Checks() {}

    /** Runs all checks; findings in the order of stations, then of severity. */
    public static List<Finding> run(Asset asset, Target target, Work work) {
        Examination examination = new Examination(asset, target);
        List<Finding> all = new ArrayList<>();
        for (int i = 0; i < ALL.size(); i++) {
            work.stopIfCancelled();
            work.at(i / (double) ALL.size(), ALL.get(i).id());
            all.addAll(ALL.get(i).run(examination));
        }
        all.sort(Comparator.comparing(Finding::station).thenComparing(Finding::severity));
        return List.copyOf(all);
    }
}
