package org.cleanmarrow.ledger;

import java.lang.ref.SoftReference;
import java.util.Objects;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * The asset that a step left. States far back may be let go when memory is wanted; asked for, they are made again from
 * the state before, to the same bits, because steps are pure. Safe from several threads.
 */
public final class State {
    private @Nullable Asset kept;
    private SoftReference<Asset> known = new SoftReference<>(null);
    /** Null until it is said what it follows; it is kept until then. */
    private @Nullable State before;

    private @Nullable Step step;

    State(Asset asset) {
        kept = asset;
    }

    /** The asset; costs the steps since the last state that is kept where it was let go and memory was wanted. */
    public synchronized Asset asset() {
        if (kept != null) {
            return kept;
        }
        Asset asset = known.get();
        if (asset == null) {
            try {
                Asset earlier = Objects.requireNonNull(before).asset();
                asset = step == null ? earlier : step.apply(earlier, Work.QUIET).asset();
            } catch (Refused e) {
                throw new IllegalStateException("a step that was done is refused on the same asset", e);
            }
            known = new SoftReference<>(asset);
        }
        return asset;
    }

    /**
     * Says how it can be made again.
     *
     * @param by null where the asset is the earlier one
     */
    synchronized void follows(State earlier, @Nullable Step by) {
        if (before == null && earlier != this) {
            before = earlier;
            step = by;
        }
    }

    /** Keeps the asset only as long as there is memory to spare. */
    synchronized void letGo() {
        if (before != null && kept != null) {
            known = new SoftReference<>(kept);
            kept = null;
        }
    }
}
