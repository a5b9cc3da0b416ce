package org.cleanmarrow.desktop.desk;

import java.util.List;
import java.util.function.Consumer;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.model.Asset;

/** Findings of the asset that was asked for last, found away from the interface thread; valid for that very object. */
final class Examiner {
    private final WorkQueue queue = new WorkQueue("checks", p -> {});
    private final ReadOnlyObjectWrapper<List<Finding>> findings = new ReadOnlyObjectWrapper<>(List.of());
    private final Consumer<Exception> failed;
    private Asset wanted;
    private Target wantedFor;
    private Asset examined;
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
        return examined == asset && examinedFor == target;
    }

    /** Finds them anew; what was asked before is given up. */
    void examine(Asset asset, Target target) {
        queue.cancel();
        wanted = asset;
        wantedFor = target;
        queue.run(
                w -> Checks.run(asset, target, w),
                found -> {
                    if (asset == wanted && target == wantedFor) {
                        examined = asset;
                        examinedFor = target;
                        findings.set(found);
                    }
                },
                failed);
    }
}
