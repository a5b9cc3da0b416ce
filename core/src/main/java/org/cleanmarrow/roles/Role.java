package org.cleanmarrow.roles;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * What a joint is in a human body: the bones of the humanoid of VRM 1.0 (VRMC_vrm-1.0, humanoid.md, "List of Humanoid
 * Bones"), with those that must be there and the parent of each. A missing parent is stepped over; a role's joint must
 * hang below that of the next one above that is there.
 */
public enum Role {
    HIPS(null, true),
    SPINE(HIPS, true),
    CHEST(SPINE, false),
    UPPER_CHEST(CHEST, false),
    NECK(UPPER_CHEST, false),
    HEAD(NECK, true),
    LEFT_EYE(HEAD, false),
    RIGHT_EYE(HEAD, false),
    JAW(HEAD, false),
    LEFT_UPPER_LEG(HIPS, true),
    LEFT_LOWER_LEG(LEFT_UPPER_LEG, true),
    LEFT_FOOT(LEFT_LOWER_LEG, true),
    LEFT_TOES(LEFT_FOOT, false),
    RIGHT_UPPER_LEG(HIPS, true),
    RIGHT_LOWER_LEG(RIGHT_UPPER_LEG, true),
    RIGHT_FOOT(RIGHT_LOWER_LEG, true),
    RIGHT_TOES(RIGHT_FOOT, false),
    LEFT_SHOULDER(UPPER_CHEST, false),
    LEFT_UPPER_ARM(LEFT_SHOULDER, true),
    LEFT_LOWER_ARM(LEFT_UPPER_ARM, true),
    LEFT_HAND(LEFT_LOWER_ARM, true),
    RIGHT_SHOULDER(UPPER_CHEST, false),
    RIGHT_UPPER_ARM(RIGHT_SHOULDER, true),
    RIGHT_LOWER_ARM(RIGHT_UPPER_ARM, true),
    RIGHT_HAND(RIGHT_LOWER_ARM, true),
    LEFT_THUMB_METACARPAL(LEFT_HAND, false),
    LEFT_THUMB_PROXIMAL(LEFT_THUMB_METACARPAL, false),
    LEFT_THUMB_DISTAL(LEFT_THUMB_PROXIMAL, false),
    LEFT_INDEX_PROXIMAL(LEFT_HAND, false),
    LEFT_INDEX_INTERMEDIATE(LEFT_INDEX_PROXIMAL, false),
    LEFT_INDEX_DISTAL(LEFT_INDEX_INTERMEDIATE, false),
    LEFT_MIDDLE_PROXIMAL(LEFT_HAND, false),
    LEFT_MIDDLE_INTERMEDIATE(LEFT_MIDDLE_PROXIMAL, false),
    LEFT_MIDDLE_DISTAL(LEFT_MIDDLE_INTERMEDIATE, false),
    LEFT_RING_PROXIMAL(LEFT_HAND, false),
    LEFT_RING_INTERMEDIATE(LEFT_RING_PROXIMAL, false),
    LEFT_RING_DISTAL(LEFT_RING_INTERMEDIATE, false),
    LEFT_LITTLE_PROXIMAL(LEFT_HAND, false),
    LEFT_LITTLE_INTERMEDIATE(LEFT_LITTLE_PROXIMAL, false),
    LEFT_LITTLE_DISTAL(LEFT_LITTLE_INTERMEDIATE, false),
    RIGHT_THUMB_METACARPAL(RIGHT_HAND, false),
    RIGHT_THUMB_PROXIMAL(RIGHT_THUMB_METACARPAL, false),
    RIGHT_THUMB_DISTAL(RIGHT_THUMB_PROXIMAL, false),
    RIGHT_INDEX_PROXIMAL(RIGHT_HAND, false),
    RIGHT_INDEX_INTERMEDIATE(RIGHT_INDEX_PROXIMAL, false),
    RIGHT_INDEX_DISTAL(RIGHT_INDEX_INTERMEDIATE, false),
    RIGHT_MIDDLE_PROXIMAL(RIGHT_HAND, false),
    RIGHT_MIDDLE_INTERMEDIATE(RIGHT_MIDDLE_PROXIMAL, false),
    RIGHT_MIDDLE_DISTAL(RIGHT_MIDDLE_INTERMEDIATE, false),
    RIGHT_RING_PROXIMAL(RIGHT_HAND, false),
    RIGHT_RING_INTERMEDIATE(RIGHT_RING_PROXIMAL, false),
    RIGHT_RING_DISTAL(RIGHT_RING_INTERMEDIATE, false),
    RIGHT_LITTLE_PROXIMAL(RIGHT_HAND, false),
    RIGHT_LITTLE_INTERMEDIATE(RIGHT_LITTLE_PROXIMAL, false),
    RIGHT_LITTLE_DISTAL(RIGHT_LITTLE_INTERMEDIATE, false);

    private final @Nullable Role parent;
    private final boolean required;

    Role(@Nullable Role parent, boolean required) {
        this.parent = parent;
        this.required = required;
    }

    /** The role above, or null for the hips. */
    public @Nullable Role parent() {
        return parent;
    }

    public boolean required() {
        return required;
    }

    /** +1 for the left side, -1 for the right, 0 for the middle. */
    public int side() {
        return name().startsWith("LEFT_") ? 1 : name().startsWith("RIGHT_") ? -1 : 0;
    }

    /** The same on the other side; itself in the middle. */
    public Role twin() {
        return switch (side()) {
            case 1 -> valueOf("RIGHT_" + name().substring(5));
            case -1 -> valueOf("LEFT_" + name().substring(6));
            default -> this;
        };
    }

    /** The name in the specification, such as {@code leftUpperArm}. */
    public String code() {
        StringBuilder out = new StringBuilder();
        for (String word : name().toLowerCase(Locale.ROOT).split("_")) {
            out.append(out.isEmpty() ? word : Character.toUpperCase(word.charAt(0)) + word.substring(1));
        }
        return out.toString();
    }

    public static Optional<Role> of(String code) {
        for (Role role : values()) {
            if (role.code().equals(code)) {
                return Optional.of(role);
            }
        }
        return Optional.empty();
    }

    public static List<Role> allRequired() {
        List<Role> out = new ArrayList<>();
        for (Role role : values()) {
            if (role.required) {
                out.add(role);
            }
        }
        return out;
    }
}
