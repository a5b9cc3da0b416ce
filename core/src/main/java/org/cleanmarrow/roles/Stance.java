package org.cleanmarrow.roles;

import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.cleanmarrow.convention.Handedness;
import org.cleanmarrow.roles.Body.Kind;
import org.joml.Vector3d;
import org.jspecify.annotations.Nullable;

/**
 * What kind of body it is, and how it stands.
 *
 * @param up      towards its head, of length one; null where nothing tells
 * @param forward where it faces, of length one; null where nothing tells
 * @param height  from its lowest to its highest joint along its own up, in the asset's unit; 0 where nothing tells
 */
record Stance(Kind kind, @Nullable Vector3d up, @Nullable Vector3d forward, double height) {
    /** Below this share of the evidence which way it faces is not known. */
    private static final double SURE = 0.02;

    /** From where trunk, legs and arms point. */
    static Stance of(JointTree tree, Map<Role, RoleGuess.Guess> named, LimbChoice choice, LimbChoice.Limbs limbs) {
        JointTree.Pair legs = limbs.legs();
        JointTree.Pair arms = limbs.arms();
        List<Integer> neck = limbs.neck();
        Vector3d hips = tree.middle(legs, 0);
        Vector3d feet = tree.middle(legs, legs.one().size() - 1);
        Vector3d shoulders = tree.middle(arms, 0);
        Vector3d hands = tree.middle(arms, arms.one().size() - 1);
        Vector3d down = new Vector3d(feet).sub(hips);
        Vector3d end = neck.isEmpty() ? shoulders : tree.at[neck.getLast()];
        Vector3d along = new Vector3d(shoulders).sub(hips);
        double trunkLength = along.length();
        double standing = -LimbSplit.cos(new Vector3d(end).sub(hips), down);
        double upright = -LimbSplit.cos(along, down);
        // How far down the legs' way the arms reach, one being the ground.
        double reach = new Vector3d(hands).sub(hips).dot(down) / Math.max(1e-12, down.lengthSquared());
        boolean like = LimbSplit.cos(new Vector3d(hands).sub(shoulders), down) > 0.6 && reach > 0.7;
        double wings = choice.wings(limbs);
        double paws = choice.paws(limbs);
        boolean fingers = tree.leaves(arms.one().getFirst()) >= 3;
        boolean sharedBranch = trunkLength < 0.2 * legs.length();
        boolean manNamed = named.keySet().containsAll(Role.allRequired());
        Kind kind;
        if (wings > 0 || !fingers && !manNamed && reach < 0.6 && (sharedBranch || neck.size() >= 6)) {
            kind = Kind.BIRD;
        } else if (like && upright < 0.6 || paws > 0 && upright < 0.7 || !manNamed && upright < 0.3 && standing < 0.5) {
            kind = Kind.QUADRUPED;
        } else if (!neck.isEmpty() && (manNamed || !sharedBranch || fingers)) {
            kind = Kind.PERSON;
        } else {
            return new Stance(Kind.PROP, null, null, 0);
        }
        Vector3d lateral = new Vector3d(tree.at[legs.one().getFirst()])
                .sub(tree.at[legs.other().getFirst()]);
        Vector3d rise = kind == Kind.PERSON ? new Vector3d(end).sub(hips) : new Vector3d(down).negate();
        Vector3d top = across(rise, lateral);
        if (top == null) {
            return new Stance(kind, null, null, 0);
        }
        Vector3d ahead = lateral.cross(top, new Vector3d()).normalize();
        Facing facing = new Facing(tree, limbs);
        double sum = kind == Kind.PERSON ? facing.person(ahead) : facing.animal(ahead, hips, shoulders, end);
        Vector3d forward;
        if (Math.abs(sum) > SURE && ahead.isFinite()) {
            forward = sum < 0 ? ahead.negate() : ahead;
        } else {
            forward = facing.words(lateral, top).orElse(null);
        }
        return new Stance(kind, top, forward, tree.extent(top));
    }

    /** Of a person by its names alone. */
    static Stance byNames(JointTree tree, Map<Role, RoleGuess.Guess> named) {
        Vector3d hips = tree.at[Objects.requireNonNull(named.get(Role.HIPS)).node()];
        Vector3d head = tree.at[Objects.requireNonNull(named.get(Role.HEAD)).node()];
        Vector3d lateral = new Vector3d(tree.at[
                        Objects.requireNonNull(named.get(Role.LEFT_UPPER_LEG)).node()])
                .sub(tree.at[
                        Objects.requireNonNull(named.get(Role.RIGHT_UPPER_LEG)).node()]);
        Vector3d up = new Vector3d(head).sub(hips).normalize();
        Vector3d forward = lateral.cross(up, new Vector3d());
        if (tree.asset.conventions().handedness() != Handedness.RIGHT) {
            forward.negate();
        }
        boolean known = forward.length() > 1e-9 && up.isFinite();
        return new Stance(Kind.PERSON, up, known ? forward.normalize() : null, tree.extent(up));
    }

    /** The part of a direction at right angles to another, of length one; null where there is none. */
    private static @Nullable Vector3d across(Vector3d v, Vector3d off) {
        Vector3d out = new Vector3d(v).fma(-v.dot(off) / Math.max(1e-30, off.lengthSquared()), off);
        return out.length() > 1e-9 * Math.max(1e-9, v.length()) ? out.normalize() : null;
    }
}
