package org.cleanmarrow.demo.pilot;

import java.util.EnumMap;
import java.util.Map;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.roles.Role;
import org.cleanmarrow.roles.Roles;

/** The roles that came along with the pilot, filled in by somebody in a hurry. */
final class PilotRoles {
    private PilotRoles() {}

    /** The pilot with its roles: the jaw on the scarf, the chest passed over, no feet. */
    static Asset with(Asset pilot) {
        Map<Role, Integer> roles = new EnumMap<>(Role.class);
        give(pilot, roles, Role.HIPS, "hips");
        give(pilot, roles, Role.SPINE, "waist");
        give(pilot, roles, Role.UPPER_CHEST, "ribs_upper");
        give(pilot, roles, Role.NECK, "neck");
        give(pilot, roles, Role.HEAD, "head");
        give(pilot, roles, Role.JAW, "scarf_tail");
        for (String side : new String[] {"left", "right"}) {
            String role = side.toUpperCase(java.util.Locale.ROOT) + "_";
            give(pilot, roles, Role.valueOf(role + "SHOULDER"), side + "_collar");
            give(pilot, roles, Role.valueOf(role + "UPPER_ARM"), side + "_upper_arm");
            give(pilot, roles, Role.valueOf(role + "LOWER_ARM"), side + "_forearm");
            give(pilot, roles, Role.valueOf(role + "HAND"), side + "_hand");
            give(pilot, roles, Role.valueOf(role + "UPPER_LEG"), side + "_thigh");
            give(pilot, roles, Role.valueOf(role + "LOWER_LEG"), side + "_shin");
        }
        return Roles.with(pilot, roles);
    }

    private static void give(Asset pilot, Map<Role, Integer> roles, Role role, String joint) {
        roles.put(role, pilot.findNode(joint));
    }
}
