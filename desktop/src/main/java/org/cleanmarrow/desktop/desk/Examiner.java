package org.cleanmarrow.desktop.desk;

import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Work;

/**
 * Findings of the asset that was asked for last, found away from the interface thread; valid for that very object. Those of
 * assets before it are kept, so that undoing, looking back and opening the same again find nothing twice.
 */
public final class Examiner {
    private static final Kept<Map<Target, List<Finding>>> KEPT = new Kept<>(32);
    /** Targets by which the findings of one asset are kept. */
    private static final int MOST_TARGETS = 8;

    private final WorkQueue queue = new WorkQueue("checks", p -> {});
    private final ReadOnlyObjectWrapper<List<Finding>> findings = new ReadOnlyObjectWrapper<>(List.of());
    private final ReadOnlyObjectWrapper<Asset> examined = new ReadOnlyObjectWrapper<>();
    private final Consumer<Exception> failed;
    private Asset wanted;
    private Target wantedFor;
    private Target examinedFor;

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
        return examined.get() == asset && examinedFor == target;
    }

    /** What the findings are of; null where nothing was examined since it was last told to forget. */
    ReadOnlyObjectProperty<Asset> examined() {
        return examined.getReadOnlyProperty();
    }

    /** Finds them, unless they are known; what was asked before is given up. */
    void examine(Asset asset, Target target) {
        queue.cancel();
        wanted = asset;
        wantedFor = target;
        List<Finding> known = known(asset).get(target);
        if (known != null) {
            found(known);
            return;
        }
        queue.run(
                w -> findings(asset, target, w),
                found -> {
                    if (asset == wanted && target == wantedFor) {
                        found(found);
                    }
                },
                failed);
    }

    /** Nothing is examined any more. */
    void forget() {
        queue.cancel();
        wanted = null;
        wantedFor = null;
        found(List.of());
    }

    private void found(List<Finding> found) {
        examinedFor = wantedFor;
        findings.set(found);
        examined.set(wanted);
    }

    /** Findings of an asset for a target, those that are known or else what the checks find now. */
    public static List<Finding> findings(Asset asset, Target target, Work work) {
        Map<Target, List<Finding>> known = known(asset);
        List<Finding> found = known.get(target);
        if (found == null) {
            found = Checks.run(asset, target, work);
            if (known.size() >= MOST_TARGETS) {
                known.clear();
            }
            known.put(target, found);
        }
        return found;
    }

    /** Findings name places and hold no data; the asset may go. */
    private static Map<Target, List<Finding>> known(Asset asset) {
        return KEPT.of(List.of(asset), ConcurrentHashMap::new);
    }
}
