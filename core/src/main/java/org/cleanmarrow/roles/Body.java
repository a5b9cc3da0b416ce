package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Threads;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

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

    private static final Set<String> WING_WORDS = RoleGuess.vocabulary("kind.wing");
    private static final Set<String> PAW_WORDS = RoleGuess.vocabulary("kind.paw");
    private static final Set<String> LEG_WORDS = RoleGuess.vocabulary("kind.leg");
    private static final Set<String> ARM_WORDS = RoleGuess.vocabulary("kind.arm");
    /** Below this share of the evidence which way it faces is not known. */
    private static final double SURE = 0.02;
    /** Cosine of 30 degrees: nearer to an axis than this, that axis is meant. */
    private static final double SNAP = 0.866;

    private final Asset asset;
    private final JointTree tree;
    private final Map<Role, RoleGuess.Guess> named;
    private final Map<Role, RoleGuess.Guess> roles = new EnumMap<>(Role.class);
    private Kind kind = Kind.PROP;

    @SuppressWarnings("NullAway.Init")
    private Vector3d up;

    @SuppressWarnings("NullAway.Init")
    private Vector3d forward;

    private boolean facingKnown;
    private double height;

    @SuppressWarnings("NullAway.Init")
    private JointTree.Pair legs;

    @SuppressWarnings("NullAway.Init")
    private JointTree.Pair arms;

    private List<Integer> trunk = List.of();
    private List<Integer> neck = List.of();

    private Body(Asset asset) {
        this.asset = asset;
        tree = new JointTree(asset);
        named = RoleGuess.ofNames(asset);
        find();
    }

    public static Body of(Asset asset) {
        Threads.begins("roles");
        return new Body(asset);
    }

    public Kind kind() {
        return kind;
    }

    /** Towards its head, for what stands; empty where nothing tells. */
    public Optional<Vector3d> up() {
        return Optional.ofNullable(up);
    }

    /** Where it faces; empty where nothing tells. */
    public Optional<Vector3d> forward() {
        return facingKnown ? Optional.of(forward) : Optional.empty();
    }

    /** Towards its own left; empty where nothing tells. */
    public Optional<Vector3d> left() {
        return facingKnown ? Optional.of(left(up, forward)) : Optional.empty();
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
        if (up == null || !facingKnown) {
            Conventions c = asset.conventions();
            return new Frame(c.up().vector(), c.forward().vector(), c.left(), false);
        }
        Optional<Axis> u = Frame.axis(up);
        Optional<Axis> f = Frame.axis(forward);
        boolean square =
                u.isPresent() && f.isPresent() && u.get().dimension() != f.get().dimension();
        Vector3d top = square ? u.get().vector() : new Vector3d(up);
        Vector3d ahead = square ? f.get().vector() : new Vector3d(forward);
        return new Frame(top, ahead, left(top, ahead), true);
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
        if (legs == null || arms == null) {
            return Optional.empty();
        }
        Vector3d left = frame().left();
        boolean first = isLeft(legs, left);
        boolean second = isLeft(arms, left);
        return Optional.of(new Limbs(
                first ? legs.one() : legs.other(),
                first ? legs.other() : legs.one(),
                second ? arms.one() : arms.other(),
                second ? arms.other() : arms.one(),
                neck));
    }

    private boolean isLeft(JointTree.Pair pair, Vector3d left) {
        return new Vector3d(tree.at[pair.one().getFirst()])
                        .sub(tree.at[pair.other().getFirst()])
                        .dot(left)
                >= 0;
    }

    /** From its feet to its head along its own up, in the asset's unit; 0 where nothing tells. */
    public double height() {
        return height;
    }

    /** Joints of a human body; none for other kinds but what names say of a hand or a part of a body. */
    public Map<Role, RoleGuess.Guess> roles() {
        return roles;
    }

    private Vector3d left(Vector3d u, Vector3d f) {
        Vector3d out = u.cross(f, new Vector3d());
        return asset.conventions().handedness() == Handedness.RIGHT ? out : out.negate();
    }

    private void find() {
        if (tree.joints.isEmpty()) {
            return;
        }
        choosePairs();
        if (legs == null || arms == null) {
            withoutPairs();
            return;
        }
        orient();
        switch (kind) {
            case PERSON -> {
                person();
                refine();
            }
            case QUADRUPED, BIRD -> {}
            default -> roles.putAll(named);
        }
    }

    /** A chain, a hand, a thing: what names say is all there is. */
    private void withoutPairs() {
        roles.putAll(named);
        boolean fingers = named.keySet().stream()
                        .filter(r -> r.name().endsWith("_PROXIMAL"))
                        .count()
                >= 3;
        boolean trunkNamed = named.containsKey(Role.HIPS) || named.containsKey(Role.HEAD);
        if (fingers && !trunkNamed || isHand()) {
            kind = Kind.HAND;
            hand();
            return;
        }
        int branching = (int) tree.joints.stream()
                .filter(n -> tree.children.get(n).size() > 1)
                .count();
        int longest = tree.joints.stream()
                .filter(n -> tree.parent[n] < 0)
                .mapToInt(n -> tree.chain(n).size())
                .max()
                .orElse(0);
        kind = longest >= 4 && branching == 0 ? Kind.CHAIN : Kind.PROP;
        // Named as a person throughout, if not built as one here.
        if (named.keySet().containsAll(Role.allRequired())) {
            kind = Kind.PERSON;
            byNames();
        }
    }

    private void byNames() {
        Vector3d hips = tree.at[Objects.requireNonNull(named.get(Role.HIPS)).node()];
        Vector3d head = tree.at[Objects.requireNonNull(named.get(Role.HEAD)).node()];
        Vector3d lateral = new Vector3d(tree.at[
                        Objects.requireNonNull(named.get(Role.LEFT_UPPER_LEG)).node()])
                .sub(tree.at[
                        Objects.requireNonNull(named.get(Role.RIGHT_UPPER_LEG)).node()]);
        up = new Vector3d(head).sub(hips).normalize();
        forward = lateral.cross(up, new Vector3d());
        if (asset.conventions().handedness() != Handedness.RIGHT) {
            forward.negate();
        }
        facingKnown = forward.length() > 1e-9 && up.isFinite();
        forward.normalize();
        height = extent();
    }

    /** The two pairs that are legs and arms most plausibly; none where no two will do. */
    private void choosePairs() {
        List<JointTree.Pair> all = tree.pairs();
        double longest = all.isEmpty() ? 0 : all.getFirst().length();
        List<JointTree.Pair> some = all.stream()
                .filter(p -> p.length() > 0.2 * longest)
                .filter(p -> all.stream().noneMatch(o -> o != p && o.length() > p.length() && (inside(p.branch(), o))))
                .limit(8)
                .toList();
        double best = Double.NEGATIVE_INFINITY;
        for (JointTree.Pair p : some) {
            for (JointTree.Pair q : some) {
                boolean apart = p != q
                        && !inside(q.branch(), p)
                        && !inside(p.branch(), q)
                        && p.one().getFirst() != (int) q.one().getFirst()
                        && p.one().getFirst() != (int) q.other().getFirst()
                        && p.other().getFirst() != (int) q.one().getFirst()
                        && p.other().getFirst() != (int) q.other().getFirst();
                if (!apart || tree.path(p.branch(), q.branch()).isEmpty()) {
                    continue;
                }
                double score = score(p, q);
                if (score > best) {
                    best = score;
                    legs = p;
                    arms = q;
                }
            }
        }
        if (legs != null) {
            trunk = tree.path(legs.branch(), arms.branch());
            neck = neck(legs, arms);
        }
    }

    private boolean inside(int node, JointTree.Pair pair) {
        return tree.isBelow(node, pair.one().getFirst())
                || tree.isBelow(node, pair.other().getFirst());
    }

    /** How plausible it is that the first pair are the legs and the second arms, front legs or wings. */
    private double score(JointTree.Pair p, JointTree.Pair q) {
        double score = 0;
        int down = tree.depth[p.branch()] - tree.depth[q.branch()];
        score += down < 0 ? 1.5 : down == 0 ? 0 : -1;
        int toes = Math.min(5, tree.leaves(p.one().getFirst()));
        int fingers = Math.min(5, tree.leaves(q.one().getFirst()));
        score += 0.3 * (fingers - toes);
        score -= Math.abs(Math.log(p.length() / q.length() / 1.2));
        score += Math.min(1.5, votes(p, LEG_WORDS) + votes(q, ARM_WORDS));
        score -= Math.min(1.5, votes(p, ARM_WORDS) + votes(q, LEG_WORDS));
        score += votes(q, WING_WORDS) - votes(p, WING_WORDS);
        score += neck(p, q).isEmpty() ? -1.5 : 0;
        // Longer limbs are likelier to be limbs than ears, tails of a coat and pigtails are.
        score += 1.5 * Math.log(Math.min(p.length(), q.length()) / Math.max(1e-9, span()));
        return score;
    }

    private double span() {
        double most = 0;
        for (int n : tree.joints) {
            most = Math.max(most, tree.at[n].distance(tree.at[tree.joints.getFirst()]));
        }
        return most;
    }

    private double votes(JointTree.Pair pair, Set<String> words) {
        long yes = pair.one().stream()
                .filter(n ->
                        RoleGuess.split(asset.nodes().get(n).name()).stream().anyMatch(words::contains))
                .count();
        return yes > 0 ? 0.75 : 0;
    }

    /** Joints beyond the arms, away from the legs: neck and head; the longest chain that is neither limb nor trunk. */
    private List<Integer> neck(JointTree.Pair p, JointTree.Pair q) {
        List<Integer> way = tree.path(p.branch(), q.branch());
        Vector3d across =
                new Vector3d(tree.at[q.one().getFirst()]).sub(tree.at[q.other().getFirst()]);
        Vector3d legTip = new Vector3d(tree.at[p.one().getLast()])
                .add(tree.at[p.other().getLast()])
                .mul(0.5);
        Vector3d away = new Vector3d(tree.at[q.branch()]).sub(legTip);
        List<Integer> best = List.of();
        double most = 0;
        for (int c : tree.children.get(q.branch())) {
            boolean taken = way.contains(c)
                    || q.one().getFirst() == c
                    || q.other().getFirst() == c
                    || p.one().getFirst() == c
                    || p.other().getFirst() == c;
            if (taken) {
                continue;
            }
            List<Integer> chain = tree.chain(c);
            Vector3d to = new Vector3d(tree.at[chain.getLast()]).sub(tree.at[q.branch()]);
            // In the middle, and on from the trunk; names may say so too.
            double middle = Math.abs(to.dot(across)) / Math.max(1e-12, to.length() * across.length());
            double on = to.dot(away) / Math.max(1e-12, to.length() * away.length());
            boolean saidSo = chain.stream()
                    .anyMatch(n ->
                            named.containsKey(Role.HEAD) && named.get(Role.HEAD).node() == n);
            double worth =
                    (saidSo ? 10 : 0) + on - middle + 0.2 * Math.min(1, to.length() / Math.max(1e-12, q.length()));
            if ((on > 0.2 || saidSo) && middle < 0.35 && worth > most) {
                most = worth;
                best = chain;
            }
        }
        return best;
    }

    private Vector3d middle(List<Integer> one, List<Integer> other, int index) {
        return new Vector3d(tree.at[one.get(index)])
                .add(tree.at[other.get(index)])
                .mul(0.5);
    }

    /** Kind, up and forward from where trunk, legs and arms point. */
    private void orient() {
        Vector3d hips = middle(legs.one(), legs.other(), 0);
        Vector3d feet = middle(legs.one(), legs.other(), legs.one().size() - 1);
        Vector3d shoulders = middle(arms.one(), arms.other(), 0);
        Vector3d hands = middle(arms.one(), arms.other(), arms.one().size() - 1);
        Vector3d down = new Vector3d(feet).sub(hips);
        Vector3d end = neck.isEmpty() ? shoulders : tree.at[neck.getLast()];
        Vector3d along = new Vector3d(shoulders).sub(hips);
        double trunkLength = along.length();
        double standing = -cos(new Vector3d(end).sub(hips), down);
        double upright = -cos(along, down);
        // How far down the legs' way the arms reach, one being the ground.
        double reach = new Vector3d(hands).sub(hips).dot(down) / Math.max(1e-12, down.lengthSquared());
        boolean like = cos(armDirection(), down) > 0.6 && reach > 0.7;
        double wings = votes(arms, WING_WORDS) + headVotes();
        double paws = votes(arms, PAW_WORDS) + votes(legs, PAW_WORDS);
        boolean fingers = tree.leaves(arms.one().getFirst()) >= 3;
        boolean sharedBranch = trunkLength < 0.2 * legs.length();
        boolean manNamed = named.keySet().containsAll(Role.allRequired());
        if (wings > 0 || !fingers && !manNamed && reach < 0.6 && (sharedBranch || neck.size() >= 6)) {
            kind = Kind.BIRD;
        } else if (like && upright < 0.6 || paws > 0 && upright < 0.7 || !manNamed && upright < 0.3 && standing < 0.5) {
            kind = Kind.QUADRUPED;
        } else if (!neck.isEmpty() && (manNamed || !sharedBranch || fingers)) {
            kind = Kind.PERSON;
        } else {
            kind = Kind.PROP;
            return;
        }
        Vector3d lateral = new Vector3d(tree.at[legs.one().getFirst()])
                .sub(tree.at[legs.other().getFirst()]);
        Vector3d rise = kind == Kind.PERSON ? new Vector3d(end).sub(hips) : new Vector3d(down).negate();
        Vector3d top = across(rise, lateral);
        if (top == null) {
            return;
        }
        up = top;
        Vector3d ahead = lateral.cross(up, new Vector3d()).normalize();
        double sum = kind == Kind.PERSON ? personFaces(ahead) : animalFaces(ahead, hips, shoulders, end);
        facingKnown = Math.abs(sum) > SURE && ahead.isFinite();
        forward = sum < 0 ? ahead.negate() : ahead;
        if (!facingKnown) {
            byWords(lateral);
        }
        height = extent();
    }

    private double headVotes() {
        return neck.stream()
                        .anyMatch(n -> RoleGuess.split(asset.nodes().get(n).name()).stream()
                                .anyMatch(WING_WORDS::contains))
                ? 0.75
                : 0;
    }

    private Vector3d armDirection() {
        return middle(arms.one(), arms.other(), arms.one().size() - 1).sub(middle(arms.one(), arms.other(), 0));
    }

    private static double cos(Vector3d a, Vector3d b) {
        double lengths = a.length() * b.length();
        return lengths > 0 ? a.dot(b) / lengths : 0;
    }

    /** The part of a direction at right angles to another, of length one; null where there is none. */
    private static @Nullable Vector3d across(Vector3d v, Vector3d off) {
        Vector3d out = new Vector3d(v).fma(-v.dot(off) / Math.max(1e-30, off.lengthSquared()), off);
        return out.length() > 1e-9 * Math.max(1e-9, v.length()) ? out.normalize() : null;
    }

    /** Where words alone know left from right, that says which way it faces. */
    private void byWords(Vector3d lateral) {
        int one = sideWords(legs.one()) + sideWords(arms.one());
        int other = sideWords(legs.other()) + sideWords(arms.other());
        if (one == other || up == null) {
            return;
        }
        Vector3d toLeft = one > other ? new Vector3d(lateral) : new Vector3d(lateral).negate();
        forward = toLeft.cross(up, new Vector3d()).normalize();
        if (asset.conventions().handedness() != Handedness.RIGHT) {
            forward.negate();
        }
        facingKnown = true;
    }

    private int sideWords(List<Integer> chain) {
        return chain.stream()
                .mapToInt(n -> RoleGuess.sideOf(asset.nodes().get(n).name()))
                .sum();
    }

    /** Evidence that a direction is ahead, each piece in shares of the limb it comes from. */
    private double personFaces(Vector3d ahead) {
        double sum = 0;
        for (List<Integer> leg : List.of(legs.one(), legs.other())) {
            int[] split = legSplit(leg);
            double size = tree.length(leg);
            Vector3d hip = tree.at[leg.getFirst()];
            Vector3d knee = tree.at[leg.get(split[0])];
            Vector3d ankle = tree.at[leg.get(split[1])];
            if (split[1] + 1 < leg.size()) {
                sum += 3 * new Vector3d(tree.at[leg.getLast()]).sub(ankle).dot(ahead) / size;
            } else {
                sum += 3 * footPoints(leg.get(split[1]), ankle).dot(ahead) / size;
            }
            Vector3d between = new Vector3d(ankle).sub(hip);
            double along = new Vector3d(knee).sub(hip).dot(between) / Math.max(1e-30, between.lengthSquared());
            sum += 2 * new Vector3d(knee).sub(hip).fma(-along, between).dot(ahead) / size;
        }
        for (List<Integer> arm : List.of(arms.one(), arms.other())) {
            int[] split = armSplit(arm);
            Vector3d shoulder = tree.at[arm.get(split[0])];
            Vector3d elbow = tree.at[arm.get(split[1])];
            Vector3d between = new Vector3d(tree.at[arm.get(split[2])]).sub(shoulder);
            double along = new Vector3d(elbow).sub(shoulder).dot(between) / Math.max(1e-30, between.lengthSquared());
            sum -= new Vector3d(elbow).sub(shoulder).fma(-along, between).dot(ahead) / tree.length(arm);
        }
        return sum;
    }

    private double animalFaces(Vector3d ahead, Vector3d hips, Vector3d shoulders, Vector3d end) {
        double size = Math.max(1e-12, legs.length());
        double sum = new Vector3d(end).sub(hips).dot(ahead) / size
                + new Vector3d(shoulders).sub(hips).dot(ahead) / size;
        for (List<Integer> leg : List.of(legs.one(), legs.other())) {
            int tip = leg.size() - 1;
            sum += 0.5
                    * new Vector3d(tree.at[leg.get(tip)])
                            .sub(tree.at[leg.get(tip - 1)])
                            .dot(ahead)
                    / size;
        }
        return sum;
    }

    /** From the ankle to the middle of what the foot's joint moves; nothing where no mesh follows it. */
    private Vector3d footPoints(int joint, Vector3d ankle) {
        Vector3d sum = new Vector3d();
        double weight = 0;
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        for (MeshPlace place : deformer.places()) {
            if (place.skin() < 0) {
                continue;
            }
            int slot = asset.skins().get(place.skin()).indexOfNode(joint);
            if (slot < 0) {
                continue;
            }
            float[] p = deformer.positions(place, rig.rest());
            int first = 0;
            for (Primitive primitive : asset.meshes().get(place.mesh()).primitives()) {
                Influences rows = primitive.influences();
                for (int v = 0; rows != null && v < primitive.vertexCount(); v++) {
                    double w = rows.weight(v, slot);
                    if (w > 0.5) {
                        sum.add(w * p[(first + v) * 3], w * p[(first + v) * 3 + 1], w * p[(first + v) * 3 + 2]);
                        weight += w;
                    }
                }
                first += primitive.vertexCount();
            }
        }
        return weight > 0 ? sum.div(weight).sub(ankle) : new Vector3d();
    }

    /** From the lowest to the highest joint along its own up. */
    private double extent() {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (int n : tree.joints) {
            double h = tree.at[n].dot(up);
            low = Math.min(low, h);
            high = Math.max(high, h);
        }
        return high - low;
    }

    /** Places of knee and ankle in a leg's chain: thigh and shin about as long, what is left a foot, shorter than they. */
    private int[] legSplit(List<Integer> leg) {
        double[] s = marks(leg);
        int last = leg.size() - 1;
        int[] best = {1, Math.min(2, last)};
        double most = Double.NEGATIVE_INFINITY;
        for (int knee = 1; knee < last; knee++) {
            for (int ankle = knee + 1; ankle <= last; ankle++) {
                double thigh = s[knee];
                double shin = s[ankle] - s[knee];
                double foot = s[last] - s[ankle];
                if (!(thigh > 0 && shin > 0)) {
                    continue;
                }
                double score = -2 * Math.abs(Math.log(thigh / shin));
                score -= foot > 0.75 * shin ? 2 : 0;
                score += bend(leg, ankle) * 1.2 + bend(leg, knee) * 0.3;
                score += 1.5 * (thigh + shin) / Math.max(1e-12, s[last]);
                if (score > most) {
                    most = score;
                    best = new int[] {knee, ankle};
                }
            }
        }
        return best;
    }

    /** How sharply a chain turns at a joint: 0 straight on, 1 at right angles. */
    private double bend(List<Integer> chain, int at) {
        if (at <= 0 || at + 1 >= chain.size()) {
            return 0;
        }
        Vector3d in = new Vector3d(tree.at[chain.get(at)]).sub(tree.at[chain.get(at - 1)]);
        Vector3d out = new Vector3d(tree.at[chain.get(at + 1)]).sub(tree.at[chain.get(at)]);
        return Math.min(1, 1 - cos(in, out));
    }

    private double[] marks(List<Integer> chain) {
        double[] s = new double[chain.size()];
        for (int i = 1; i < s.length; i++) {
            s[i] = s[i - 1] + tree.at[chain.get(i)].distance(tree.at[chain.get(i - 1)]);
        }
        return s;
    }

    /** Places of shoulder, elbow and wrist in an arm's chain. */
    private int[] armSplit(List<Integer> arm) {
        double[] s = marks(arm);
        int last = arm.size() - 1;
        int palm = last;
        for (int i = 0; i <= last; i++) {
            if (tree.children.get(arm.get(i)).size() >= 3) {
                palm = i;
            }
        }
        boolean fingers = palm < last;
        int[] best = {0, 1, Math.min(2, last)};
        double most = Double.NEGATIVE_INFINITY;
        for (int shoulder = 0; shoulder + 2 <= last; shoulder++) {
            for (int elbow = shoulder + 1; elbow < last; elbow++) {
                for (int wrist = elbow + 1; wrist <= last; wrist++) {
                    double upper = s[elbow] - s[shoulder];
                    double lower = s[wrist] - s[elbow];
                    if (!(upper > 0 && lower > 0) || fingers && wrist > palm) {
                        continue;
                    }
                    double rest = s[last] - s[wrist];
                    double score = -2 * Math.abs(Math.log(upper / lower / 1.05));
                    score += 1.5 * (upper + lower) / Math.max(1e-12, s[last]);
                    score -= rest > 0.9 * lower ? 2 : 0;
                    score -= s[shoulder] > 0.75 * upper ? 2 : 0;
                    score += fingers && wrist == palm ? 1.5 : 0;
                    // A collar bone leads to where the arm begins to hang free.
                    score += shoulder == 1 && s[1] < 0.75 * upper ? 0.4 : 0;
                    if (score > most) {
                        most = score;
                        best = new int[] {shoulder, elbow, wrist};
                    }
                }
            }
        }
        return best;
    }

    private void person() {
        Vector3d left = facingKnown ? left(up, forward) : asset.conventions().left();
        put(Role.HIPS, legs.branch());
        limbs(left);
        List<Integer> spine = new ArrayList<>(trunk.size() > 1 ? trunk.subList(1, trunk.size()) : List.of());
        List<Integer> beyond = new ArrayList<>(neck);
        int head = headOf(beyond);
        if (spine.isEmpty() && head > 0) {
            // Arms and legs from one joint: what lies before the head is the spine.
            spine.addAll(beyond.subList(0, head));
            beyond = beyond.subList(head, beyond.size());
            head = 0;
        }
        if (!spine.isEmpty()) {
            put(Role.SPINE, spine.getFirst());
        }
        if (spine.size() == 2) {
            put(Role.CHEST, spine.getLast());
        } else if (spine.size() > 2) {
            put(Role.CHEST, spine.get(Math.max(1, (int) Math.round((spine.size() - 1) * 0.5))));
            put(Role.UPPER_CHEST, spine.getLast());
        }
        if (head >= 0) {
            put(Role.HEAD, beyond.get(head));
        }
        if (head > 0) {
            put(Role.NECK, beyond.getFirst());
        }
    }

    /** Place of the head in the chain beyond the arms: the last that bears weight or has a face, never a mere end. */
    private int headOf(List<Integer> chain) {
        if (chain.isEmpty()) {
            return -1;
        }
        for (int i = 0; i < chain.size(); i++) {
            if (named.containsKey(Role.HEAD) && named.get(Role.HEAD).node() == chain.get(i)) {
                return i;
            }
        }
        var bearing = org.cleanmarrow.query.Skeletons.bearing(asset);
        int last = chain.size() - 1;
        boolean end = last > 0 && (bearing.isEmpty() || !bearing.get(chain.get(last)));
        int top = end ? last - 1 : last;
        // A face hangs on the head: where the chain splits it is reached.
        for (int i = 0; i <= top; i++) {
            if (tree.children.get(chain.get(i)).size() > 1 && i > 0) {
                return i;
            }
        }
        return Math.min(top, 3);
    }

    private void limbs(Vector3d left) {
        sided(legs, left, (side, leg) -> {
            int[] s = legSplit(leg);
            put(role(side, "UPPER_LEG"), leg.getFirst());
            put(role(side, "LOWER_LEG"), leg.get(s[0]));
            put(role(side, "FOOT"), leg.get(s[1]));
            boolean toes = s[1] + 1 < leg.size() - 1
                    || s[1] + 1 == leg.size() - 1
                            && org.cleanmarrow.query.Skeletons.bearing(asset).get(leg.getLast());
            if (toes) {
                put(role(side, "TOES"), leg.get(s[1] + 1));
            }
        });
        sided(arms, left, (side, arm) -> {
            int[] s = armSplit(arm);
            put(role(side, "UPPER_ARM"), arm.get(s[0]));
            put(role(side, "LOWER_ARM"), arm.get(s[1]));
            put(role(side, "HAND"), arm.get(s[2]));
            if (s[0] > 0) {
                put(role(side, "SHOULDER"), arm.get(s[0] - 1));
            }
        });
    }

    private interface Limb {
        void take(int side, List<Integer> chain);
    }

    private void sided(JointTree.Pair pair, Vector3d left, Limb limb) {
        boolean first = isLeft(pair, left);
        limb.take(first ? 1 : -1, pair.one());
        limb.take(first ? -1 : 1, pair.other());
    }

    private static Role role(int side, String rest) {
        return Role.valueOf((side > 0 ? "LEFT_" : "RIGHT_") + rest);
    }

    private void put(Role role, int node) {
        boolean taken = roles.values().stream().anyMatch(g -> g.node() == node);
        if (!taken) {
            roles.putIfAbsent(role, new RoleGuess.Guess(node, 0.8));
        }
    }

    /**
     * What names say within a limb or the trunk counts before what lengths say there; on the other side of the body it is
     * the twin role that is meant. Roles that shape does not tell (eyes, jaw, fingers) are taken from names alone.
     */
    private void refine() {
        Map<Role, Integer> said = new HashMap<>();
        named.forEach((role, guess) -> {
            int side = sideOf(guess.node());
            Role own = role.side() == 0 || side == 0 || side == role.side() ? role : role.twin();
            if (guess.confidence() >= 0.7 && belongs(own, guess.node())) {
                said.putIfAbsent(own, guess.node());
            }
        });
        Set<Role> all = new LinkedHashSet<>(said.keySet());
        for (Role role : all) {
            int node = Objects.requireNonNull(said.get(role));
            roles.values().removeIf(g -> g.node() == node);
            roles.put(role, new RoleGuess.Guess(node, 1));
        }
        // Moved along a limb by a name, a role must still stand in its order.
        roles.entrySet().removeIf(e -> !hangsRight(e.getKey()));
    }

    private int sideOf(int node) {
        for (JointTree.Pair pair : List.of(legs, arms)) {
            for (List<Integer> chain : List.of(pair.one(), pair.other())) {
                if (tree.isBelow(node, chain.getFirst())) {
                    return roles.entrySet().stream()
                            .filter(e -> chain.contains(e.getValue().node()))
                            .mapToInt(e -> e.getKey().side())
                            .findFirst()
                            .orElse(0);
                }
            }
        }
        return 0;
    }

    /** Whether a joint lies in the part of the body that a role is of. */
    private boolean belongs(Role role, int node) {
        String name = role.name();
        boolean leg = inside(node, legs);
        boolean arm = inside(node, arms);
        if (name.matches(".*(_LEG|FOOT|TOES)$")) {
            return leg;
        }
        if (name.matches(".*(SHOULDER|_ARM|HAND|METACARPAL|PROXIMAL|INTERMEDIATE|DISTAL)$")) {
            return arm;
        }
        return !leg && !arm;
    }

    private boolean hangsRight(Role role) {
        Role above = role.parent();
        while (above != null && !roles.containsKey(above)) {
            above = above.parent();
        }
        return above == null
                || Objects.requireNonNull(roles.get(role)).node()
                                != Objects.requireNonNull(roles.get(above)).node()
                        && tree.isBelow(roles.get(role).node(), roles.get(above).node());
    }

    /** Four or five chains from one joint, alike in joints and length, of which all but a thumb go one way; and little else. */
    private boolean isHand() {
        return tree.joints.size() <= 40 && tree.joints.stream().anyMatch(this::isPalm);
    }

    private boolean isPalm(int node) {
        List<List<Integer>> chains = tree.children.get(node).stream()
                .map(tree::chain)
                .filter(c -> c.size() >= 3)
                .toList();
        if (chains.size() < 4 || chains.size() > 6 || chains.stream().anyMatch(c -> c.size() > 6)) {
            return false;
        }
        Vector3d along = new Vector3d();
        List<Vector3d> ways = new ArrayList<>();
        double shortest = Double.POSITIVE_INFINITY;
        double longest = 0;
        for (List<Integer> chain : chains) {
            Vector3d way =
                    new Vector3d(tree.at[chain.getLast()]).sub(tree.at[node]).normalize();
            ways.add(way);
            along.add(way);
            shortest = Math.min(shortest, tree.length(chain));
            longest = Math.max(longest, tree.length(chain));
        }
        along.normalize();
        long astray = ways.stream().filter(w -> !(w.dot(along) > 0.7)).count();
        return astray <= 1 && longest < 4 * shortest;
    }

    /**
     * Whether a hand by itself is the left or the right one: with the fingers up and the palm towards one, the thumb of a
     * left hand points left. The palm is where the fingers bend to.
     */
    private void hand() {
        Map<String, List<Integer>> fingers = new HashMap<>();
        named.forEach((role, guess) -> {
            String name = role.name().replaceFirst("^(LEFT|RIGHT)_", "");
            if (name.contains("_") && !name.startsWith("UPPER") && !name.startsWith("LOWER")) {
                fingers.computeIfAbsent(name.substring(0, name.indexOf('_')), k -> new ArrayList<>())
                        .add(guess.node());
            }
        });
        RoleGuess.Guess wrist = named.getOrDefault(Role.LEFT_HAND, named.get(Role.RIGHT_HAND));
        if (wrist == null || !fingers.containsKey("THUMB") || !fingers.containsKey("MIDDLE")) {
            return;
        }
        Vector3d from = tree.at[wrist.node()];
        Vector3d thumb = new Vector3d();
        fingers.get("THUMB").forEach(n -> thumb.add(new Vector3d(tree.at[n]).sub(from)));
        Vector3d along = new Vector3d();
        fingers.get("MIDDLE").forEach(n -> along.add(new Vector3d(tree.at[n]).sub(from)));
        Vector3d curl = new Vector3d();
        fingers.forEach((name, joints) -> {
            if (!name.equals("THUMB") && joints.size() >= 2) {
                List<Integer> far = joints.stream()
                        .sorted(java.util.Comparator.comparingDouble(n -> tree.at[n].distance(from)))
                        .toList();
                Vector3d first = new Vector3d(tree.at[far.getFirst()]).sub(from).normalize();
                Vector3d last = new Vector3d(tree.at[far.getLast()])
                        .sub(tree.at[far.getFirst()])
                        .normalize();
                curl.add(last.sub(first));
            }
        });
        double turn = thumb.dot(curl.cross(along, new Vector3d()));
        if (asset.conventions().handedness() != Handedness.RIGHT) {
            turn = -turn;
        }
        double size = thumb.length() * along.length() * Math.max(curl.length(), 1e-9);
        if (Math.abs(turn) < 0.02 * size) {
            return;
        }
        int side = turn > 0 ? 1 : -1;
        Map<Role, RoleGuess.Guess> own = new EnumMap<>(Role.class);
        named.forEach(
                (role, guess) -> own.putIfAbsent(role.side() == side || role.side() == 0 ? role : role.twin(), guess));
        roles.clear();
        roles.putAll(own);
    }
}
