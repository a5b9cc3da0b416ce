package org.cleanmarrow.steps.skeleton;

import java.util.BitSet;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Removes joints at the ends of chains that move no vertex and carry nothing, with their channels. */
@StepInfo(name = "trim-ends", says = "Removes end joints that move nothing, and their channels.")
public record TrimEnds() implements Step {

    @Override
    public Change apply(Asset asset, Work work) {
        BitSet idle = Skeletons.idleEnds(asset);
        if (idle.isEmpty()) {
            return Change.of(asset).count("end.joints.removed", 0);
        }
        long channels = asset.clips().stream()
                .flatMap(c -> c.channels().stream())
                .filter(c -> c.node() >= 0 && idle.get(c.node()))
                .count();
        Asset without = asset.without(idle);
        // A clip needs at least one channel to exist in a file.
        Asset out = without.withClips(
                without.clips().stream().filter(c -> !c.channels().isEmpty()).toList());
        return Change.of(out)
                .count("end.joints.removed", idle.cardinality())
                .count("channels.removed.with.them", channels);
    }
}
