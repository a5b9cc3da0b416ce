package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Extras;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;

/**
 * Which joint has which role, kept with the joint in its extras: {@code "extras": {"humanoid": ["leftUpperArm"]}}. So the
 * map stays with the delivery, and goes along when joints are renamed or renumbered. A joint said to have several roles
 * keeps them all, to be found by the checks.
 */
public final class Roles {
    private static final String KEY = "humanoid";

    private Roles() {}

    /** Joints of each role; more than one where a file says so. */
    public static Map<Role, List<Integer>> of(Asset asset) {
        Map<Role, List<Integer>> out = new EnumMap<>(Role.class);
        for (int n = 0; n < asset.nodes().size(); n++) {
            for (Role role : of(asset.nodes().get(n))) {
                out.computeIfAbsent(role, k -> new ArrayList<>()).add(n);
            }
        }
        return out;
    }

    /** Roles of one node. */
    public static List<Role> of(Node node) {
        List<Role> out = new ArrayList<>();
        Extras.of(node.carried(), KEY).forEach(r -> Role.of(r.asString("")).ifPresent(out::add));
        return out;
    }

    /** Roles that the asset says; where those of a whole body are not all there, the others as they can be guessed. */
    public static Map<Role, Integer> known(Asset asset) {
        Map<Role, Integer> out = new EnumMap<>(Role.class);
        of(asset).forEach((role, nodes) -> out.put(role, nodes.getFirst()));
        if (!out.keySet().containsAll(Role.allRequired())) {
            RoleGuess.of(asset).forEach((role, guess) -> {
                if (!out.containsValue(guess.node())) {
                    out.putIfAbsent(role, guess.node());
                }
            });
        }
        return out;
    }

    /** The asset with these roles and no others. */
    public static Asset with(Asset asset, Map<Role, Integer> roles) {
        List<Node> nodes = new ArrayList<>(asset.nodes());
        for (int n = 0; n < nodes.size(); n++) {
            List<Role> wanted = new ArrayList<>();
            for (var entry : roles.entrySet()) {
                if (entry.getValue() == n) {
                    wanted.add(entry.getKey());
                }
            }
            if (!of(nodes.get(n)).equals(wanted)) {
                nodes.set(n, nodes.get(n).withCarried(said(nodes.get(n).carried(), wanted)));
            }
        }
        return asset.withNodes(nodes);
    }

    private static Passthrough said(Passthrough carried, List<Role> roles) {
        ArrayNode list = JsonNodeFactory.instance.arrayNode();
        roles.forEach(r -> list.add(r.code()));
        return Extras.with(carried, KEY, roles.isEmpty() ? null : list);
    }
}
