package org.cleanmarrow.steps;

import java.util.Collections;
import java.util.EnumMap;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.step.Change;
import org.cleanmarrow.step.Parameter;
import org.cleanmarrow.step.Refused;
import org.cleanmarrow.step.Step;
import org.cleanmarrow.step.StepInfo;
import org.cleanmarrow.step.Work;

/** Says which joint has which role in a human body; what was said before no longer holds. */
@StepInfo(name = "set-roles", says = "Says which joint has which role of the humanoid of VRM 1.0.")
public record SetRoles(
        @Parameter(says = "roles, such as leftUpperArm, and the joints that have them")
        Map<String, String> roles) implements Step {
    public SetRoles {
        roles = Collections.unmodifiableMap(new TreeMap<>(roles));
    }

    /** The step for roles and node numbers of an asset. */
    public static SetRoles of(Asset asset, Map<Role, Integer> roles) {
        Map<String, String> out = new TreeMap<>();
        roles.forEach((role, node) -> out.put(role.code(), asset.nodeRef(node)));
        return new SetRoles(out);
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        Map<Role, Integer> wanted = new EnumMap<>(Role.class);
        for (var entry : roles.entrySet()) {
            Role role = Role.of(entry.getKey()).orElse(null);
            if (role == null) {
                throw new Refused("roles.unknown", entry.getKey());
            }
            wanted.put(role, Names.node(asset, entry.getValue()));
        }
        return Change.of(Roles.with(asset, wanted)).count("roles", wanted.size());
    }
}
