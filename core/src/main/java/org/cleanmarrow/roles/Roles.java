package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Carried;
import org.cleanmarrow.asset.Node;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

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
        if (!node.carried().json().contains("\"" + KEY + "\"")) {
            return List.of();
        }
        List<Role> out = new ArrayList<>();
        try {
            JsonNode said = JsonMapper.shared()
                    .readTree(node.carried().json())
                    .path("extras")
                    .path(KEY);
            said.forEach(r -> Role.of(r.asString("")).ifPresent(out::add));
        } catch (JacksonException e) {
            // Says nothing that could be read.
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

    private static Carried said(Carried carried, List<Role> roles) {
        ObjectNode json = carried.isEmpty()
                ? JsonMapper.shared().createObjectNode()
                : (ObjectNode) JsonMapper.shared().readTree(carried.json());
        ObjectNode extras =
                json.path("extras").isObject() ? (ObjectNode) json.path("extras") : json.putObject("extras");
        extras.remove(KEY);
        if (!roles.isEmpty()) {
            ArrayNode list = extras.putArray(KEY);
            roles.forEach(r -> list.add(r.code()));
        }
        if (extras.isEmpty()) {
            json.remove("extras");
        }
        return json.isEmpty() ? Carried.NONE : new Carried(json.toString());
    }
}
