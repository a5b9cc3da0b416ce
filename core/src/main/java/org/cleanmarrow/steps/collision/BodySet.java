package org.cleanmarrow.steps.collision;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.OptionalInt;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.joml.Vector3d;

/**
 * The joints of a person that bear a shape when the whole is to fall or be pushed: hips, spine, chest, head, and of each limb the upper
 * and lower part with hand or foot; sixteen (common practice). Fingers belong to the hand, toes to the foot, collars and neck to the
 * chest, twist joints to the bone along which they lie. What hangs from the body, such as a cape or a scarf, keeps its own.
 *
 * @param owners for each node that whose shape holds what it moves, itself where it is one of the set or of something that hangs
 *     from it
 * @param person all but what hangs from the body
 */
record BodySet(int[] owners, BitSet person) {
    /** A twist joint is no farther from its bone than this share of its length. */
    private static final double ALONG = 0.15;

    /**
     * The set of a person; empty where the asset is nobody with a role for hips and head.
     */
    static Optional<BodySet> of(Asset asset) {
        Map<Role, Integer> roles = Roles.known(asset);
        if (!roles.containsKey(Role.HIPS) || !roles.containsKey(Role.HEAD)) {
            return Optional.empty();
        }
        int[] parents = asset.parents();
        int[] own = new int[asset.nodes().size()];
        Arrays.setAll(own, n -> n);
        Vector3d[] at = Arrays.stream(new Rig(asset).rest().world())
                .map(w -> w.getTranslation(new Vector3d()))
                .toArray(Vector3d[]::new);
        Map<Integer, Role> ofNodes = new HashMap<>();
        roles.forEach((role, node) -> ofNodes.putIfAbsent(node, role));
        boolean upper = roles.containsKey(Role.UPPER_CHEST);
        BitSet person = new BitSet();
        for (int n = 0; n < own.length; n++) {
            Role role = ofNodes.get(n);
            if (role != null || isBelowEnd(parents, ofNodes, n) || isAlong(parents, at, ofNodes, n)) {
                person.set(n);
            }
            if (person.get(n) && (role == null || !bears(role, upper))) {
                own[n] = above(parents, ofNodes, upper, n).orElse(n);
            }
        }
        return Optional.of(new BodySet(own, person));
    }

    private static boolean bears(Role role, boolean upper) {
        return switch (role) {
            case HIPS, SPINE, HEAD -> true;
            case CHEST -> !upper;
            case UPPER_CHEST -> upper;
            case LEFT_UPPER_ARM, LEFT_LOWER_ARM, LEFT_HAND, RIGHT_UPPER_ARM, RIGHT_LOWER_ARM, RIGHT_HAND -> true;
            case LEFT_UPPER_LEG, LEFT_LOWER_LEG, LEFT_FOOT, RIGHT_UPPER_LEG, RIGHT_LOWER_LEG, RIGHT_FOOT -> true;
            default -> false;
        };
    }

    private static OptionalInt above(int[] parents, Map<Integer, Role> ofNodes, boolean upper, int node) {
        for (int n = parents[node]; n >= 0; n = parents[n]) {
            Role role = ofNodes.get(n);
            if (role != null && bears(role, upper)) {
                return OptionalInt.of(n);
            }
        }
        return OptionalInt.empty();
    }

    /** Whether a joint is one of a hand or a foot whose role nobody said. */
    private static boolean isBelowEnd(int[] parents, Map<Integer, Role> ofNodes, int node) {
        int top = topWithRole(parents, ofNodes, node);
        if (top < 0) {
            return false;
        }
        return switch (BodyRegion.of(Objects.requireNonNull(ofNodes.get(top)))) {
            case LEFT_HAND, RIGHT_HAND, LEFT_FOOT, RIGHT_FOOT -> true;
            default -> false;
        };
    }

    /** The nearest joint above that has a role; -1 where none has. */
    private static int topWithRole(int[] parents, Map<Integer, Role> ofNodes, int node) {
        int top = parents[node];
        while (top >= 0 && !ofNodes.containsKey(top)) {
            top = parents[top];
        }
        return top;
    }

    /** Whether a joint lies on the way from the one above it with a role to another below that with one, and not at its start. */
    private static boolean isAlong(int[] parents, Vector3d[] at, Map<Integer, Role> ofNodes, int node) {
        int top = topWithRole(parents, ofNodes, node);
        if (top < 0) {
            return false;
        }
        for (int other : ofNodes.keySet()) {
            int up = topWithRole(parents, ofNodes, other);
            Vector3d bone = new Vector3d(at[other]).sub(at[top]);
            double length = bone.length();
            if (up != top || !(length > 0)) {
                continue;
            }
            Vector3d to = new Vector3d(at[node]).sub(at[top]);
            double along = to.dot(bone) / length;
            double aside = Math.sqrt(Math.max(0, to.lengthSquared() - along * along));
            if (along > -ALONG * length && along < (1 + ALONG) * length && aside < ALONG * length) {
                return true;
            }
        }
        return false;
    }
}
