package org.cleanmarrow.roles;

import java.util.Collections;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Kept;
import org.cleanmarrow.work.Threads;
import org.joml.Vector3d;

/**
 * What kind of body a skeleton is, which way it stands and faces, and which joint has which role, from its own evidence:
 * like chains on either side of a trunk, their lengths and places, feet that point ahead, knees that bend one way. Names
 * only vote, and settle what shape leaves open.
 *
 * <p>A person is two like chains that end a trunk (legs), two more at its other end (arms), and a head beyond; the trunk
 * stands against the legs. On four legs both pairs point the same way and the trunk lies across them. Wings are a second
 * pair that neither reaches the ground nor ends in fingers.
 *
 * <p>Cost: small beside posing; vertices are looked at only where no toe says which way a foot points.
 */
public final class Body {
    /** Kinds of body. */
    public enum Kind {
        PERSON,
        QUADRUPED,
        BIRD,
        HAND,
        CHAIN,
        PROP;

        public String code() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    private static final Kept<Body> KEPT = new Kept<>(16);
    /** Cosine of 30 degrees: nearer to an axis than this, that axis is meant. */
    private static final double SNAP = 0.866;

    private final Conventions conventions;
    private final Stance stance;
    private final Optional<Limbs> limbs;
    private final Map<Role, RoleGuess.Guess> roles;

    private Body(Conventions conventions, JointTree tree, Found found) {
        this.conventions = conventions;
        stance = found.stance;
        Map<Role, RoleGuess.Guess> own = new EnumMap<>(Role.class);
        own.putAll(found.roles);
        roles = Collections.unmodifiableMap(own);
        limbs = found.limbs.map(l -> sided(tree, l));
    }

    private record Found(Stance stance, Map<Role, RoleGuess.Guess> roles, Optional<LimbChoice.Limbs> limbs) {}

    /** Safe from several threads; what was found of the same nodes and meshes is not looked for again. */
    public static Body of(Asset asset) {
        Threads.begins("roles");
        return KEPT.of(Kept.posed(asset), () -> {
            JointTree tree = new JointTree(asset);
            return new Body(asset.conventions(), tree, find(tree));
        });
    }

    private static Found find(JointTree tree) {
        if (tree.joints.isEmpty()) {
            return new Found(new Stance(Kind.PROP, null, null, 0), Map.of(), Optional.empty());
        }
        Map<Role, RoleGuess.Guess> named = RoleGuess.ofNames(tree.asset);
        LimbChoice choice = new LimbChoice(tree, named);
        Optional<LimbChoice.Limbs> limbs = choice.best();
        if (limbs.isEmpty()) {
            return withoutPairs(tree, named);
        }
        Stance stance = Stance.of(tree, named, choice, limbs.get());
        Map<Role, RoleGuess.Guess> roles = switch (stance.kind()) {
            case PERSON -> new PersonRoles(tree, named, limbs.get()).find(left(stance, tree.asset.conventions()));
            case QUADRUPED, BIRD -> Map.of();
            default -> named;
        };
        return new Found(stance, roles, limbs);
    }

    /** A chain, a hand, a thing: what names say is all there is. */
    private static Found withoutPairs(JointTree tree, Map<Role, RoleGuess.Guess> named) {
        boolean fingers = named.keySet().stream()
                        .filter(r -> r.name().endsWith("_PROXIMAL"))
                        .count()
                >= 3;
        boolean trunkNamed = named.containsKey(Role.HIPS) || named.containsKey(Role.HEAD);
        if (fingers && !trunkNamed || HandRoles.isHand(tree)) {
            return found(Kind.HAND, HandRoles.of(tree, named));
        }
        int branching = (int) tree.joints.stream()
                .filter(n -> tree.children.get(n).size() > 1)
                .count();
        int longest = tree.joints.stream()
                .filter(n -> tree.parent[n] < 0)
                .mapToInt(n -> tree.chain(n).size())
                .max()
                .orElse(0);
        // Named as a person throughout, if not built as one here.
        if (named.keySet().containsAll(Role.allRequired())) {
            return new Found(Stance.byNames(tree, named), named, Optional.empty());
        }
        return found(longest >= 4 && branching == 0 ? Kind.CHAIN : Kind.PROP, named);
    }

    private static Found found(Kind kind, Map<Role, RoleGuess.Guess> roles) {
        return new Found(new Stance(kind, null, null, 0), roles, Optional.empty());
    }

    public Kind kind() {
        return stance.kind();
    }

    /** Towards its head, for what stands; empty where nothing tells. */
    public Optional<Vector3d> up() {
        return Optional.ofNullable(stance.up()).map(Vector3d::new);
    }

    /** Where it faces; empty where nothing tells. */
    public Optional<Vector3d> forward() {
        return Optional.ofNullable(stance.forward()).map(Vector3d::new);
    }

    /** Towards its own left; empty where nothing tells. */
    public Optional<Vector3d> left() {
        return frame().known() ? Optional.of(left(stance, conventions)) : Optional.empty();
    }

    /** Towards its own left; by the conventions where nothing tells. */
    private static Vector3d left(Stance stance, Conventions conventions) {
        Vector3d up = stance.up();
        Vector3d forward = stance.forward();
        return up == null || forward == null ? conventions.left() : left(up, forward, conventions);
    }

    private static Vector3d left(Vector3d up, Vector3d forward, Conventions conventions) {
        Vector3d out = up.cross(forward, new Vector3d());
        return conventions.handedness() == Handedness.RIGHT ? out : out.negate();
    }

    /**
     * The directions of a body, the asset's own where they come within 30 degrees of an axis.
     *
     * @param known false where nothing tells and the asset's conventions stand in
     */
    public record Frame(Vector3d up, Vector3d forward, Vector3d left, boolean known) {
        /** The axis that a direction is nearest to; empty where it lies between axes. */
        public static Optional<Axis> axis(Vector3d v) {
            for (Axis axis : Axis.values()) {
                if (v.dot(axis.vector()) > SNAP) {
                    return Optional.of(axis);
                }
            }
            return Optional.empty();
        }
    }

    /** Which way it stands and faces; by the conventions where nothing tells. */
    public Frame frame() {
        Conventions c = conventions;
        Vector3d up = stance.up();
        Vector3d forward = stance.forward();
        if (up == null || forward == null) {
            return new Frame(c.up().vector(), c.forward().vector(), c.left(), false);
        }
        Optional<Axis> u = Frame.axis(up);
        Optional<Axis> f = Frame.axis(forward);
        boolean square =
                u.isPresent() && f.isPresent() && u.get().dimension() != f.get().dimension();
        Vector3d top = square ? u.get().vector() : new Vector3d(up);
        Vector3d ahead = square ? f.get().vector() : new Vector3d(forward);
        return new Frame(top, ahead, left(top, ahead, c), true);
    }

    /** Joints of the limbs of a body of any kind: hind legs and fore legs, legs and wings, legs and arms; and its neck. */
    public record Limbs(
            List<Integer> leftLeg,
            List<Integer> rightLeg,
            List<Integer> leftArm,
            List<Integer> rightArm,
            List<Integer> neck) {}

    /** Empty for what has no two pairs of limbs. */
    public Optional<Limbs> limbs() {
        return limbs;
    }

    private Limbs sided(JointTree tree, LimbChoice.Limbs of) {
        Vector3d left = frame().left();
        boolean first = tree.isLeft(of.legs(), left);
        boolean second = tree.isLeft(of.arms(), left);
        return new Limbs(
                first ? of.legs().one() : of.legs().other(),
                first ? of.legs().other() : of.legs().one(),
                second ? of.arms().one() : of.arms().other(),
                second ? of.arms().other() : of.arms().one(),
                of.neck());
    }

    /** From its feet to its head along its own up, in the asset's unit; 0 where nothing tells. */
    public double height() {
        return stance.height();
    }

    /** Joints of a human body; none for other kinds but what names say of a hand or a part of a body. */
    public Map<Role, RoleGuess.Guess> roles() {
        return roles;
    }
}
