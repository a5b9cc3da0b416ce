package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import org.cleanmarrow.query.Skeletons;
import org.joml.Vector3d;

/** Which joint has which role in a person whose limbs are known. */
final class PersonRoles {
    private final JointTree tree;
    private final Map<Role, RoleGuess.Guess> named;
    private final LimbChoice.Limbs limbs;
    private final Map<Role, RoleGuess.Guess> roles = new EnumMap<>(Role.class);

    PersonRoles(JointTree tree, Map<Role, RoleGuess.Guess> named, LimbChoice.Limbs limbs) {
        this.tree = tree;
        this.named = named;
        this.limbs = limbs;
    }

    /**
     * Joints of a person by where they hang and how long they are, and by their names within that.
     *
     * @param left towards its own left
     */
    Map<Role, RoleGuess.Guess> find(Vector3d left) {
        put(Role.HIPS, limbs.legs().branch());
        limbs(left);
        List<Integer> spine = new ArrayList<>(
                limbs.trunk().size() > 1
                        ? limbs.trunk().subList(1, limbs.trunk().size())
                        : List.of());
        List<Integer> beyond = new ArrayList<>(limbs.neck());
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
        refine();
        return roles;
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
        BitSet bearing = Skeletons.bearing(tree.asset);
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
        sided(limbs.legs(), left, (side, leg) -> {
            int[] s = LimbSplit.leg(tree, leg);
            put(role(side, "UPPER_LEG"), leg.getFirst());
            put(role(side, "LOWER_LEG"), leg.get(s[0]));
            put(role(side, "FOOT"), leg.get(s[1]));
            boolean toes = s[1] + 1 < leg.size() - 1
                    || s[1] + 1 == leg.size() - 1
                            && Skeletons.bearing(tree.asset).get(leg.getLast());
            if (toes) {
                put(role(side, "TOES"), leg.get(s[1] + 1));
            }
        });
        sided(limbs.arms(), left, (side, arm) -> {
            int[] s = LimbSplit.arm(tree, arm);
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
        boolean first = tree.isLeft(pair, left);
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
        for (JointTree.Pair pair : List.of(limbs.legs(), limbs.arms())) {
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
        boolean leg = tree.isIn(node, limbs.legs());
        boolean arm = tree.isIn(node, limbs.arms());
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
}
