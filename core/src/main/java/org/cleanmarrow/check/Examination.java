package org.cleanmarrow.check;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.step.Work;
import org.joml.Matrix4d;

/** One asset held against one target, with what several checks need found only once. */
public final class Examination {
    private final Asset asset;
    private final Target target;
    private final Supplier<Matrix4d[]> world;
    private final Supplier<Box> box;

    public Examination(Asset asset, Target target) {
        this.asset = asset;
        this.target = target;
        world = once(() -> new Rig(asset).rest().world());
        box = once(() -> Box.ofRest(asset));
    }

    /** Runs all checks; findings in the order of stations, then of severity. */
    public static List<Finding> of(Asset asset, Target target, Work work) {
        Examination examination = new Examination(asset, target);
        List<Finding> all = new ArrayList<>();
        for (int i = 0; i < Checks.ALL.size(); i++) {
            work.stopIfCancelled();
            work.at(i / (double) Checks.ALL.size(), Checks.ALL.get(i).id());
            all.addAll(Checks.ALL.get(i).run(examination));
        }
        all.sort(java.util.Comparator.comparing(Finding::station).thenComparing(Finding::severity));
        return List.copyOf(all);
    }

    private static <T> Supplier<T> once(Supplier<T> make) {
        return new Supplier<>() {
            private T made;

            @Override
            public T get() {
                if (made == null) {
                    made = make.get();
                }
                return made;
            }
        };
    }

    public Asset asset() {
        return asset;
    }

    public Target target() {
        return target;
    }

    /** Rest transforms of all nodes in the asset's world. */
    public Matrix4d[] world() {
        return world.get();
    }

    /** Box of all meshes at rest, in the asset's own unit. */
    public Box box() {
        return box.get();
    }
}
