package org.cleanmarrow.work;

import org.cleanmarrow.model.Asset;

/**
 * One recorded change: a pure function from asset to asset whose parameters are the components of a record.
 *
 * <p>Steps refer to things by name, so that they can be replayed on a newer version of the source. Every
 * implementation is a record with {@link StepInfo} and {@link Parameter} annotations, listed in
 * {@link org.cleanmarrow.steps.Steps}.
 */
public interface Step {

    /**
     * Applies the change. The given asset stays as it is; the result shares every array that did not change.
     *
     * @throws Refused when the change cannot be made; nothing is changed then
     * @throws java.util.concurrent.CancellationException when {@code work} was cancelled
     */
    Change apply(Asset asset, Work work) throws Refused;

    /** True where the step says anew what the numbers or the moments mean, so that "how far did it move" has no answer. */
    default boolean reinterprets() {
        return false;
    }
}
