package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.Surface;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Says of shapes what they are for, and how they rub and bounce. */
@StepInfo(name = "set-shapes", says = "Says what collision shapes are for, and how they rub and bounce.")
public record SetShapes(
        @Parameter(says = "names of shapes or of their nodes, with commas between and * for any run of characters")
        String shapes,

        @Parameter(
                says = "solid, trigger (says that something is inside), query (found by rays alone), or as it is",
                fallback = "\"as_is\"")
        Use role,

        @Parameter(says = "friction, at rest and sliding; -1: as it is", fallback = "-1", least = -1, most = 100)
        double friction,

        @Parameter(says = "how much of its speed it gives back; -1: as it is", fallback = "-1", least = -1, most = 1)
        double bounce)
        implements Step {
    /** What a shape is for. */
    public enum Use {
        AS_IS,
        SOLID,
        TRIGGER,
        QUERY
    }

    public SetShapes(String shapes, Use role) {
        this(shapes, role, -1, -1);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(friction >= -1 && friction <= 100 && bounce >= -1 && bounce <= 1)) {
            throw new Refused("set.shapes.range", friction, bounce);
        }
        List<Collider> chosen = Bodies.named(asset, shapes);
        if (chosen.isEmpty()) {
            throw new Refused("shapes.unknown", shapes);
        }
        List<Attached> all = new ArrayList<>(asset.attached());
        all.replaceAll(a -> a instanceof Collider c && chosen.contains(c) ? changed(c) : a);
        return Change.of(asset.withAttached(all)).count("shapes.set", chosen.size());
    }

    private Collider changed(Collider c) {
        Collider.Role to = role == Use.AS_IS ? c.role() : Collider.Role.valueOf(role.name());
        return c.withRole(to).withSurface(rubbed(c.surface(), friction, bounce));
    }

    /** A surface with another friction and bounce; what is below zero stays. */
    static Surface rubbed(Surface was, double friction, double bounce) {
        return new Surface(
                friction < 0 ? was.staticFriction() : friction,
                friction < 0 ? was.dynamicFriction() : friction,
                bounce < 0 ? was.restitution() : bounce,
                was.frictions(),
                was.restitutions());
    }
}
