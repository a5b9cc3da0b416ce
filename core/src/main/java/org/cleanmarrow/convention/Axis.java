package org.cleanmarrow.convention;

import java.util.Locale;
import java.util.Optional;
import org.joml.Vector3d;

/** A signed coordinate axis. */
public enum Axis {
    X(1, 0, 0),
    Y(0, 1, 0),
    Z(0, 0, 1),
    MINUS_X(-1, 0, 0),
    MINUS_Y(0, -1, 0),
    MINUS_Z(0, 0, -1);

    private final int x;
    private final int y;
    private final int z;

    Axis(int x, int y, int z) {
        this.x = x;
        this.y = y;
        this.z = z;
    }

    /** A new unit vector along this axis. */
    public Vector3d vector() {
        return new Vector3d(x, y, z);
    }

    /** 0 for x, 1 for y, 2 for z, whatever the sign. */
    public int dimension() {
        return ordinal() % 3;
    }

    /** +1 or -1. */
    public int sign() {
        return ordinal() < 3 ? 1 : -1;
    }

    /** The short name used in JSON: {@code y}, {@code -z}. */
    public String code() {
        return (sign() < 0 ? "-" : "") + "xyz".charAt(dimension());
    }

    /** Reads {@code y}, {@code +Y} or {@code -z}; empty when the text is no axis. */
    public static Optional<Axis> parse(String text) {
        String plain = text.strip().toLowerCase(Locale.ROOT);
        if (plain.startsWith("+")) {
            plain = plain.substring(1);
        }
        for (Axis axis : values()) {
            if (axis.code().equals(plain)) {
                return Optional.of(axis);
            }
        }
        return Optional.empty();
    }
}
