package org.cleanmarrow.check;

import java.util.function.Supplier;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.pose.Rig;
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
