package org.cleanmarrow.steps.skeleton;

import java.util.Collections;
import java.util.EnumMap;
import java.util.Map;
import java.util.TreeMap;
import org.cleanmarrow.edit.Names;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

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
