package org.cleanmarrow.reference;

import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.reference.SkeletonOutline.Joint;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.RoleGuess;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.work.Threads;
import org.joml.Vector3d;

/** Finds which joint of a reference a joint is, whatever the two are called. */
public final class JointMap {
    /** Joints this near, as a share of the skeleton's size, are the same joint. */
    private static final double NEAR = 0.004;
    /** And the next one at least this many times as far. */
    private static final double CLEARLY = 4;

    private JointMap() {}

    /**
     * Names of joints here and of the same in the reference, those that are equal left out. A joint is the same where the
     * names are, or differ only in case, signs and a subject's prefix; where both have one role in a body; or where it
     * stands by far the nearest at rest. No joint is given to two.
     */
    public static Map<String, String> guess(Asset asset, Asset reference) {
        Threads.begins("joints of a reference");
        Map<Integer, Joint> own = SkeletonOutline.standing(asset);
        Map<Integer, Joint> others = SkeletonOutline.standing(reference);
        Map<Integer, Integer> found = new LinkedHashMap<>();
        Set<Integer> taken = new HashSet<>();
        Map<String, Integer> exact = byName(others, false);
        own.forEach((n, j) -> pair(found, taken, n, exact.getOrDefault(j.name(), -1)));
        Map<String, Integer> plain = byName(others, true);
        own.forEach((n, j) -> pair(found, taken, n, plain.getOrDefault(plain(j.name()), -1)));
        Map<Role, Integer> ownRoles = roles(asset);
        roles(reference).forEach((role, other) -> {
            if (ownRoles.containsKey(role)) {
                pair(found, taken, ownRoles.get(role), other);
            }
        });
        double near = NEAR * Math.max(span(own.values()), span(others.values()));
        own.forEach((n, j) -> pair(found, taken, n, nearest(j.place(), others, near)));
        Map<String, String> out = new LinkedHashMap<>();
        own.forEach((n, j) -> {
            String name = reference.nodes().get(found.getOrDefault(n, 0)).name();
            if (found.containsKey(n) && !name.isEmpty() && !name.equals(j.name())) {
                out.put(j.name(), name);
            }
        });
        return out;
    }

    private static void pair(Map<Integer, Integer> found, Set<Integer> taken, int own, int other) {
        if (other >= 0 && !found.containsKey(own) && taken.add(other)) {
            found.put(own, other);
        }
    }

    private static Map<String, Integer> byName(Map<Integer, Joint> joints, boolean plain) {
        Map<String, Integer> out = new HashMap<>();
        joints.forEach((n, j) -> out.merge(plain ? plain(j.name()) : j.name(), n, (a, b) -> -1));
        return out;
    }

    private static String plain(String name) {
        return name.substring(name.lastIndexOf(':') + 1)
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]", "");
    }

    /** Roles as the asset says them, or as they can be guessed. */
    private static Map<Role, Integer> roles(Asset asset) {
        Map<Role, Integer> out = new java.util.EnumMap<>(Role.class);
        Roles.of(asset).forEach((role, nodes) -> out.put(role, nodes.getFirst()));
        if (out.isEmpty()) {
            RoleGuess.of(asset).forEach((role, guess) -> out.put(role, guess.node()));
        }
        return out;
    }

    /** The joint that is near and far nearer than any other, or -1. */
    private static int nearest(Vector3d at, Map<Integer, Joint> known, double near) {
        int found = -1;
        double best = Double.POSITIVE_INFINITY;
        double second = Double.POSITIVE_INFINITY;
        for (var entry : known.entrySet()) {
            double distance = entry.getValue().place().distance(at);
            if (distance < best) {
                second = best;
                best = distance;
                found = entry.getKey();
            } else {
                second = Math.min(second, distance);
            }
        }
        return best < near && best * CLEARLY <= second ? found : -1;
    }

    private static double span(Collection<Joint> joints) {
        Box box = Box.empty();
        joints.forEach(j -> box.grow(j.place().x, j.place().y, j.place().z));
        return box.isEmpty() ? 0 : box.diagonal();
    }
}
