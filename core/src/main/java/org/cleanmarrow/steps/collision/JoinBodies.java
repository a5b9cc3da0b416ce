package org.cleanmarrow.steps.collision;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.collision.Bodies;
import org.cleanmarrow.collision.ClipHinge;
import org.cleanmarrow.collision.Frame;
import org.cleanmarrow.collision.JointRange;
import org.cleanmarrow.collision.RigidBody;
import org.cleanmarrow.collision.RigidJoint;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attached;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.trial.Swing;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;

/**
 * Joins bodies in a row: each hangs by its node's origin on the nearest of them above it, or on the one before it where none
 * is above; or on the hinge that clips turn it about. Those that have no body become free ones, the first a still one. Joints that those below the first had are
 * replaced.
 */
@StepInfo(name = "join-bodies", says = "Joins bodies in a row, each hanging on the one above it, with limits.")
public record JoinBodies(
        @Parameter(says = "names of nodes in order, with commas between and * for any run of characters")
        String chain,

        @Parameter(
                says =
                        "auto: the swing kept on a joint, else what clips reach, else the two angles; hinge: the one axis that clips"
                                + " turn it about, wherever that lies, as far as they do; given: the angles",
                fallback = "\"auto\"")
        Range range,

        @Parameter(
                says = "how far a body may lean from where it hangs at rest",
                fallback = "45",
                unit = "degrees",
                least = 0,
                most = 180)
        double swing,

        @Parameter(
                says = "how far it may turn about its own length, either way",
                fallback = "20",
                unit = "degrees",
                least = 0,
                most = 180)
        double twist,

        @Parameter(
                says = "what pulls a body back to where it hangs at rest, newton metres a radian",
                fallback = "0",
                least = 0,
                most = 1e9)
        double stiffness,

        @Parameter(
                says = "what slows its turning, newton metre seconds a radian",
                fallback = "0",
                least = 0,
                most = 1e9)
        double damping,

        @Parameter(says = "true: joined bodies collide with each other", fallback = "false")
        boolean meet)
        implements Step {
    /** Where limits come from. */
    public enum Range {
        AUTO,
        HINGE,
        GIVEN
    }

    public JoinBodies(String chain) {
        this(chain, Range.AUTO, 45, 20, 0, 0, false);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        boolean inRange = swing >= 0
                && swing <= 180
                && twist >= 0
                && twist <= 180
                && stiffness >= 0
                && stiffness <= 1e9
                && damping >= 0
                && damping <= 1e9;
        if (!inRange) {
            throw new Refused("join.bodies.range");
        }
        List<Integer> nodes = inOrder(asset);
        if (nodes.size() < 2) {
            throw new Refused("join.bodies.few", chain, nodes.size());
        }
        BitSet set = new BitSet();
        nodes.forEach(set::set);
        List<Attached> all = new ArrayList<>(asset.attached());
        int first = nodes.getFirst();
        all.removeIf(a -> a instanceof RigidJoint j && set.get(j.node()) && j.node() != first);
        BitSet there = Bodies.nodes(asset);
        int made = 0;
        for (int n : nodes) {
            if (!there.get(n)) {
                all.add(new RigidBody(n, n == first ? RigidBody.Kind.STILL : RigidBody.Kind.FREE, 0));
                made++;
            }
        }
        Matrix4d[] world = new Rig(asset).rest().world();
        int ofSwing = 0;
        int ofClips = 0;
        for (int i = 1; i < nodes.size(); i++) {
            work.stopIfCancelled();
            int n = nodes.get(i);
            int other = above(asset, n, set).orElse(nodes.get(i - 1));
            Optional<Swing> kept = range == Range.AUTO ? Swing.of(asset.nodes().get(n)) : Optional.empty();
            Optional<ClipHinge> hinge = range == Range.HINGE ? ClipHinge.of(asset, n, other) : Optional.empty();
            if (range == Range.HINGE && hinge.isEmpty()) {
                throw new Refused("join.bodies.no.hinge", asset.nodeRef(n), asset.nodeRef(other));
            }
            Optional<JointRange> reached =
                    range == Range.AUTO && kept.isEmpty() ? JointRange.of(asset, n, other) : Optional.empty();
            ofSwing += kept.isPresent() ? 1 : 0;
            ofClips += reached.isPresent() || hinge.isPresent() ? 1 : 0;
            List<RigidJoint.Limit> limits = hinge.map(h -> hinge(0, h.least(), h.most()))
                    .or(() -> kept.map(s -> hinge(s.axis(), Math.toRadians(s.from()), Math.toRadians(s.to()))))
                    .orElseGet(() -> ball(asset, world, n, reached));
            all.add(new RigidJoint("", n, hinge.map(ClipHinge::at).orElse(Frame.NONE), other, limits, drives(), meet));
        }
        Change change = Change.of(asset.withAttached(all)).count("bodies.joined", nodes.size() - 1);
        change = made == 0 ? change : change.count("bodies.made", made);
        change = ofSwing == 0 ? change : change.count("limits.of.swings", ofSwing);
        return ofClips == 0 ? change : change.count("limits.of.clips", ofClips);
    }

    /** From the top down; where names are listed and none of them holds a comma, as they are listed. */
    private List<Integer> inOrder(Asset asset) {
        Set<Integer> out = new LinkedHashSet<>();
        int[] topDown = asset.topDown();
        for (String one : chain.contains("\\") ? List.of(chain) : List.of(chain.split(","))) {
            BitSet fitting = new BitSet();
            Names.nodes(asset, one.strip()).forEach(fitting::set);
            Arrays.stream(topDown).filter(fitting::get).forEach(out::add);
        }
        return List.copyOf(out);
    }

    private static Optional<Integer> above(Asset asset, int node, BitSet set) {
        int[] parents = asset.parents();
        for (int n = parents[node]; n >= 0; n = parents[n]) {
            if (set.get(n)) {
                return Optional.of(n);
            }
        }
        return Optional.empty();
    }

    private static RigidJoint.Limit pinned() {
        return new RigidJoint.Limit(false, 7, 0, 0);
    }

    private static List<RigidJoint.Limit> hinge(int number, double from, double to) {
        int axis = 1 << number;
        return List.of(
                pinned(), new RigidJoint.Limit(true, 7 - axis, 0, 0), new RigidJoint.Limit(true, axis, from, to));
    }

    private List<RigidJoint.Limit> ball(Asset asset, Matrix4d[] world, int n, Optional<JointRange> reached) {
        int axis = JointRange.length(asset, world, n);
        double lean = reached.map(JointRange::swing).orElse(Math.toRadians(swing));
        double low = reached.map(JointRange::leastTwist).orElse(-Math.toRadians(twist));
        double high = reached.map(JointRange::mostTwist).orElse(Math.toRadians(twist));
        return List.of(
                pinned(),
                new RigidJoint.Limit(true, 7 - (1 << axis), 0, lean),
                new RigidJoint.Limit(true, 1 << axis, low, high));
    }

    private List<RigidJoint.Drive> drives() {
        List<RigidJoint.Drive> out = new ArrayList<>();
        for (int axis = 0; axis < 3 && (stiffness > 0 || damping > 0); axis++) {
            out.add(new RigidJoint.Drive(true, axis, false, Double.POSITIVE_INFINITY, 0, 0, stiffness, damping));
        }
        return out;
    }
}
