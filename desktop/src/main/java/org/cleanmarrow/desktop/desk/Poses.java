package org.cleanmarrow.desktop.desk;

import java.util.ArrayList;
import java.util.List;
import javafx.beans.property.ReadOnlyObjectProperty;
import javafx.beans.property.ReadOnlyObjectWrapper;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.trial.TrialPoses;

/** Trial poses for the skeleton that is looked at, and those that were kept. Guessing roles takes time. */
final class Poses {
    private final WorkQueue queue = new WorkQueue("poses", p -> {});
    private final Jobs jobs;
    private final ReadOnlyObjectWrapper<List<TrialPose>> all = new ReadOnlyObjectWrapper<>(List.of());
    private Asset wanted;
    private List<TrialPose> made = List.of();
    private List<TrialPose> kept = List.of();

    Poses(Jobs jobs) {
        this.jobs = jobs;
    }

    WorkQueue queue() {
        return queue;
    }

    ReadOnlyObjectProperty<List<TrialPose>> all() {
        return all.getReadOnlyProperty();
    }

    /** Finds the poses that suit an asset's skeleton; all there are stay until then. */
    void suit(Asset asset, List<TrialPose> keptThen) {
        queue.cancel();
        wanted = asset;
        kept = keptThen;
        queue.run(
                w -> TrialPoses.of(asset),
                found -> {
                    if (asset == wanted) {
                        made = found;
                        gather();
                    }
                },
                jobs::fail);
    }

    /** There is no skeleton any more. */
    void forget() {
        queue.cancel();
        wanted = null;
        made = List.of();
        keep(List.of());
    }

    /** Those that were kept with the work. */
    void keep(List<TrialPose> poses) {
        kept = poses;
        gather();
    }

    private void gather() {
        List<TrialPose> both = new ArrayList<>(made);
        both.addAll(kept);
        all.set(List.copyOf(both));
    }
}
