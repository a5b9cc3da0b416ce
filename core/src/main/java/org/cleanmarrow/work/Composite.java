package org.cleanmarrow.work;

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
     * The others, in their order.
     *
     * @throws Refused where what is named is not there
     */
    List<Part> parts(Asset asset) throws Refused;

    /** @throws Refused as its needed parts; nothing is changed then */
    @Override
    default Change apply(Asset asset, Work work) throws Refused {
        List<Part> parts = parts(asset);
        Change change = Change.of(asset);
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            Work own = work.part(i / (double) parts.size(), (i + 1.0) / parts.size());
            try {
                change = part.step.apply(change.asset(), own).after(change);
            } catch (Refused e) {
                if (part.needed) {
                    throw e;
                }
                change = change.note("part.passed", e.reason());
            }
        }
        return change;
    }
}
