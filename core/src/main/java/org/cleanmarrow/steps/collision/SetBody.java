package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.Collider;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;

/** Makes nodes rigid bodies, or changes what they are: who moves them, how heavy they are, what slows them. */
@StepInfo(name = "set-body", says = "Makes nodes rigid bodies: still, moved by keys, or free, with a mass.")
public record SetBody(
        @Parameter(says = "names of nodes, with commas between and * for any run of characters")
        String nodes,

        @Parameter(
                says = "still, keyframed (moved by clips alone) or free (moved by what acts on it)",
                fallback = "\"free\"")
        RigidBody.Kind kind,

        @Parameter(
                says = "how heavy; 0: by density, and where that is 0 too whoever receives it finds it by the shapes",
                fallback = "0",
                unit = "kilograms",
                least = 0,
                most = 1e9)
        double mass,

        @Parameter(
                says = "where no mass is given: mass from the volume of the shapes",
                fallback = "0",
                unit = "kilograms a cubic metre",
                least = 0,
                most = 100000)
        double density,

        @Parameter(says = "what slows its speed, a second", fallback = "0", least = 0, most = 1000)
        double damping,

        @Parameter(says = "what slows its turning, a second", fallback = "0", least = 0, most = 1000)
        double turnDamping,

        @Parameter(says = "how much of gravity acts on it", fallback = "1", least = -100, most = 100)
        double gravity,

        @Parameter(
                says = "friction of its shapes, at rest and sliding; -1: as it is",
                fallback = "-1",
                least = -1,
                most = 100)
        double friction,

        @Parameter(
                says = "how much of its speed its shapes give back; -1: as it is",
                fallback = "-1",
                least = -1,
                most = 1)
        double bounce,

        @Parameter(says = "shapes: as they are spread; given: at the place that is said", fallback = "\"shapes\"")
        Centre centre,

        @Parameter(
                says = "centre of mass, along the node's x",
                fallback = "0",
                unit = "metres",
                least = -1e6,
                most = 1e6)
        double x,

        @Parameter(
                says = "centre of mass, along the node's y",
                fallback = "0",
                unit = "metres",
                least = -1e6,
                most = 1e6)
        double y,

        @Parameter(
                says = "centre of mass, along the node's z",
                fallback = "0",
                unit = "metres",
                least = -1e6,
                most = 1e6)
        double z)
        implements Step {
    /** Where the centre of mass lies. */
    public enum Centre {
        SHAPES,
        GIVEN
    }

    private static final double FAR = 1e6;

    public SetBody(String nodes, RigidBody.Kind kind, double mass) {
        this(nodes, kind, mass, 0, 0, 0, 1, -1, -1);
    }

    /** Its centre of mass as its shapes are spread. */
    public SetBody(
            String nodes,
            RigidBody.Kind kind,
            double mass,
            double density,
            double damping,
            double turnDamping,
            double gravity,
            double friction,
            double bounce) {
        this(nodes, kind, mass, density, damping, turnDamping, gravity, friction, bounce, Centre.SHAPES, 0, 0, 0);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        boolean inRange = mass >= 0
                && mass <= 1e9
                && density >= 0
                && density <= 100_000
                && damping >= 0
                && damping <= 1000
                && turnDamping >= 0
                && turnDamping <= 1000
                && Math.abs(gravity) <= 100
                && friction >= -1
                && friction <= 100
                && bounce >= -1
                && bounce <= 1
                && Math.abs(x) <= FAR
                && Math.abs(y) <= FAR
                && Math.abs(z) <= FAR;
        if (!inRange) {
            throw new Refused("body.range");
        }
        List<Integer> chosen = Names.nodes(asset, nodes);
        if (chosen.isEmpty()) {
            throw new Refused("body.no.nodes", nodes);
        }
        BitSet set = new BitSet();
        chosen.forEach(set::set);
        List<Attached> all = new ArrayList<>();
        int[] bearers = Bodies.bearers(asset, set);
        for (Attached a : asset.attached()) {
            if (a instanceof Collider c && set.get(bearers[c.node()])) {
                all.add(c.withSurface(SetShapes.rubbed(c.surface(), friction, bounce)));
            } else if (!(a instanceof RigidBody b && set.get(b.node()))) {
                all.add(a);
            }
        }
        double sum = 0;
        for (int n : chosen) {
            double kilograms =
                    kind == RigidBody.Kind.STILL ? 0 : mass > 0 ? mass : density * Bodies.volume(asset, n, set);
            sum += kilograms;
            all.add(new RigidBody(
                    n,
                    kind,
                    mass(asset, n, kilograms),
                    RigidBody.Speed.NONE,
                    new RigidBody.Damping(damping, turnDamping, gravity)));
        }
        return Change.of(asset.withAttached(all))
                .count("bodies.set", chosen.size())
                .note("bodies.mass", sum);
    }

    private RigidBody.Mass mass(Asset asset, int node, double kilograms) throws Refused {
        RigidBody.Mass plain = RigidBody.Mass.of(kilograms);
        if (centre == Centre.SHAPES || kind == RigidBody.Kind.STILL) {
            return plain;
        }
        Vector3d at = Bodies.toMetres(asset, node).invert().transformPosition(new Vector3d(x, y, z));
        if (!at.isFinite()) {
            throw new Refused("place.shape.flat", asset.nodeRef(node));
        }
        return new RigidBody.Mass(kilograms, at, plain.inertia(), plain.principal());
    }
}
