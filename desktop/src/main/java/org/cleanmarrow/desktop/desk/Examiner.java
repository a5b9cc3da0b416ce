package org.cleanmarrow.desktop.desk;

import java.lang.ref.WeakReference;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;

/**
 * Findings of the asset that was asked for last, found away from the interface thread; valid for that very object. Those of
 * assets before it are kept, so that undoing and looking back find nothing twice.
 */
final class Examiner {
    private static final int MOST_KEPT = 32;
    private final WorkQueue queue = new WorkQueue("checks", p -> {});
    private final ReadOnlyObjectWrapper<List<Finding>> findings = new ReadOnlyObjectWrapper<>(List.of());
    private final Consumer<Exception> failed;
    private Asset wanted;
    private Target wantedFor;
    private Asset examined;
    private Target examinedFor;
    private final Deque<Kept> kept = new ArrayDeque<>();

    /** Findings name places and hold no data; the asset may go. */
    private record Kept(WeakReference<Asset> asset, Target target, List<Finding> findings) {
        boolean isOf(Asset asset, Target target) {
            return this.asset.refersTo(asset) && this.target == target;
        }
    }

    Examiner(Consumer<Exception> failed) {
        this.failed = failed;
    }

    WorkQueue queue() {
        return queue;
    }

    ReadOnlyObjectProperty<List<Finding>> findings() {
        return findings.getReadOnlyProperty();
    }

    /** True once the findings are those of this asset for this target. */
    boolean isOf(Asset asset, Target target) {
        return examined == asset && examinedFor == target;
    }

    /** Finds them, unless they are known; what was asked before is given up. */
    void examine(Asset asset, Target target) {
        queue.cancel();
        wanted = asset;
        wantedFor = target;
        Optional<Kept> known = kept.stream().filter(k -> k.isOf(asset, target)).findFirst();
        if (known.isPresent()) {
            found(asset, target, known.get().findings);
            return;
        }
        queue.run(
                w -> Checks.run(asset, target, w),
                found -> {
                    kept.addFirst(new Kept(new WeakReference<>(asset), target, found));
                    if (kept.size() > MOST_KEPT) {
                        kept.removeLast();
                    }
                    if (asset == wanted && target == wantedFor) {
                        found(asset, target, found);
                    }
                },
                failed);
    }

    private void found(Asset asset, Target target, List<Finding> found) {
        examined = asset;
        examinedFor = target;
        findings.set(found);
    }
}
