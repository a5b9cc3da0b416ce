package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Handedness;
import org.joml.Vector3d;

/** A hand by itself: whether a skeleton is one, and which. */
final class HandRoles {
    private HandRoles() {}

    /** Four or five chains from one joint, alike in joints and length, of which all but a thumb go one way; and little else. */
    static boolean isHand(JointTree tree) {
        return tree.joints.size() <= 40 && tree.joints.stream().anyMatch(n -> isPalm(tree, n));
    }

    private static boolean isPalm(JointTree tree, int node) {
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
    static Map<Role, RoleGuess.Guess> of(JointTree tree, Map<Role, RoleGuess.Guess> named) {
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
            return named;
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
                        .sorted(Comparator.comparingDouble(n -> tree.at[n].distance(from)))
                        .toList();
                Vector3d first = new Vector3d(tree.at[far.getFirst()]).sub(from).normalize();
                Vector3d last = new Vector3d(tree.at[far.getLast()])
                        .sub(tree.at[far.getFirst()])
                        .normalize();
                curl.add(last.sub(first));
            }
        });
        double turn = thumb.dot(curl.cross(along, new Vector3d()));
        if (tree.asset.conventions().handedness() != Handedness.RIGHT) {
            turn = -turn;
        }
        double size = thumb.length() * along.length() * Math.max(curl.length(), 1e-9);
        if (Math.abs(turn) < 0.02 * size) {
            return named;
        }
        int side = turn > 0 ? 1 : -1;
        Map<Role, RoleGuess.Guess> own = new EnumMap<>(Role.class);
        named.forEach(
                (role, guess) -> own.putIfAbsent(role.side() == side || role.side() == 0 ? role : role.twin(), guess));
        return own;
    }
}
