package org.cleanmarrow.examination;

import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.query.Painted;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.text.Message;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;

/** One asset held against one target, with what several checks need found only once. */
public final class Examination {
    private final Asset asset;
    private final Target target;
    private final Work work;
    private final Supplier<Matrix4d[]> world;
    private final Supplier<Box> box;
    private final Supplier<Frozen> frozen;
    private final Supplier<Body> body;
    private final Supplier<Painted> painted;

    /** Either the nodes or why not. */
    private record Frozen(Optional<List<Node>> nodes, Optional<Message> refusal) {}

    /** One that nobody cancels. */
    public Examination(Asset asset, Target target) {
        this(asset, target, Work.QUIET);
    }

    /** @param whole hears that it is no longer wanted; how far it is, is not said to it */
    public Examination(Asset asset, Target target, Work whole) {
        this.asset = asset;
        this.target = target;
        work = new Work() {
            @Override
            public void at(double share, String doing) {}

            @Override
            public boolean cancelled() {
                return whole.cancelled();
            }
        };
        world = once(() -> new Rig(asset).rest().world());
        box = once(() -> RestBox.of(asset));
        frozen = once(() -> freeze(asset));
        body = once(() -> Body.of(asset));
        painted = once(() -> Painted.of(asset));
    }

    private static Frozen freeze(Asset asset) {
        try {
            return new Frozen(Optional.of(FreezeNodes.preview(asset)), Optional.empty());
        } catch (Refused e) {
            return new Frozen(Optional.empty(), Optional.of(e.reason()));
        }
    }

    private static <T> Supplier<T> once(Supplier<T> make) {
        return new Supplier<>() {
            private @Nullable T made;

            @Override
            public T get() {
                if (made == null) {
                    made = make.get();
                }
                return made;
            }
        };
    }

    /** What kind of body it is, and which way it stands and faces. */
    public Body body() {
        return body.get();
    }

    /** The materials and pictures of what is exported. */
    public Painted painted() {
        return painted.get();
    }

    /** Nodes as freezing would leave them; empty where it would be refused. */
    public Optional<List<Node>> frozen() {
        return frozen.get().nodes;
    }

    /** Why freezing would be refused; empty where it would not. */
    public Optional<Message> frozenRefusal() {
        return frozen.get().refusal;
    }

    public Asset asset() {
        return asset;
    }

    /** For what a check does that takes seconds. */
    public Work work() {
        return work;
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
