package org.cleanmarrow.work;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;

/** A step that is others, one after the other, and that can be opened into them. */
public interface Composite extends Step {
    /**
     * One of the others.
     *
     * @param needed where it cannot be made, the whole cannot; otherwise it is passed over, and a note says why
     */
    record Part(Step step, boolean needed) {}

    /**
     * What came of it.
     *
     * @param done the steps that were made, which by themselves give the same
     */
    record Run(Change change, List<Step> done) {}

    /**
     * The others, in their order.
     *
     * @throws Refused where what is named is not there
     */
    List<Part> parts(Asset asset) throws Refused;

    /** @throws Refused as its needed parts; nothing is changed then */
    default Run run(Asset asset, Work work) throws Refused {
        List<Part> parts = parts(asset);
        List<Step> done = new ArrayList<>();
        Change change = Change.of(asset);
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            Work own = work.part(i / (double) parts.size(), (i + 1.0) / parts.size());
            try {
                change = part.step.apply(change.asset(), own).after(change);
                done.add(part.step);
            } catch (Refused e) {
                if (part.needed) {
                    throw e;
                }
                change = change.note("part.passed", e.reason());
            }
        }
        return new Run(change, List.copyOf(done));
    }

    @Override
    default Change apply(Asset asset, Work work) throws Refused {
        return run(asset, work).change();
    }
}
