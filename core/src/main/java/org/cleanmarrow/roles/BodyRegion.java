package org.cleanmarrow.roles;

import java.util.Arrays;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.cleanmarrow.model.Asset;

/** A piece of a body that something can be worn on. */
public enum BodyRegion {
    HEAD,
    NECK,
    TORSO,
    LEFT_UPPER_ARM,
    LEFT_LOWER_ARM,
    LEFT_HAND,
    RIGHT_UPPER_ARM,
    RIGHT_LOWER_ARM,
    RIGHT_HAND,
    LEFT_UPPER_LEG,
    LEFT_LOWER_LEG,
    LEFT_FOOT,
    RIGHT_UPPER_LEG,
    RIGHT_LOWER_LEG,
    RIGHT_FOOT;

    /** The name in files and ledgers, such as {@code left-upper-arm}. */
    public String code() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Optional<BodyRegion> of(String code) {
        for (BodyRegion region : values()) {
            if (region.code().equals(code)) {
                return Optional.of(region);
            }
        }
        return Optional.empty();
    }

    /** The names of all, with commas between. */
    public static String codes() {
        return Arrays.stream(values()).map(BodyRegion::code).collect(Collectors.joining(", "));
    }

    /** The region that a role's joint moves. */
    public static BodyRegion of(Role role) {
        return switch (role) {
            case HIPS, SPINE, CHEST, UPPER_CHEST, LEFT_SHOULDER, RIGHT_SHOULDER -> TORSO;
            case NECK -> NECK;
            case HEAD, LEFT_EYE, RIGHT_EYE, JAW -> HEAD;
            case LEFT_UPPER_LEG -> LEFT_UPPER_LEG;
            case RIGHT_UPPER_LEG -> RIGHT_UPPER_LEG;
            case LEFT_LOWER_LEG -> LEFT_LOWER_LEG;
            case RIGHT_LOWER_LEG -> RIGHT_LOWER_LEG;
            case LEFT_FOOT, LEFT_TOES -> LEFT_FOOT;
            case RIGHT_FOOT, RIGHT_TOES -> RIGHT_FOOT;
            case LEFT_UPPER_ARM -> LEFT_UPPER_ARM;
            case RIGHT_UPPER_ARM -> RIGHT_UPPER_ARM;
            case LEFT_LOWER_ARM -> LEFT_LOWER_ARM;
            case RIGHT_LOWER_ARM -> RIGHT_LOWER_ARM;
            default -> role.side() > 0 ? LEFT_HAND : RIGHT_HAND;
        };
    }

    /**
     * The region of each node: that of its own role, or of the nearest joint above that has one; above all of them the
     * torso. Empty where no joint is known to have a role.
     */
    public static BodyRegion[] ofNodes(Asset asset) {
        Map<Role, Integer> roles = Roles.known(asset);
        if (roles.isEmpty()) {
            return new BodyRegion[0];
        }
        BodyRegion[] out = new BodyRegion[asset.nodes().size()];
        Map<Integer, BodyRegion> own = new HashMap<>();
        roles.forEach((role, node) -> own.put(node, of(role)));
        int[] parents = asset.parents();
        for (int n = 0; n < out.length; n++) {
            int above = n;
            while (above >= 0 && !own.containsKey(above)) {
                above = parents[above];
            }
            out[n] = own.getOrDefault(above, TORSO);
        }
        return out;
    }
}
