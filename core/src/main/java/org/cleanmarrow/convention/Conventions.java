package org.cleanmarrow.convention;

import java.util.Locale;
import java.util.Optional;
import org.joml.Vector3d;

/**
 * Unit and axes that the numbers of an asset are meant in.
 *
 * @param metresPerUnit length of one unit in metres, finite and above zero (0.01 for centimetres)
 * @param up            the axis that points away from the ground
 * @param forward       the axis that the front of the asset faces; at right angles to {@code up}
 * @param handedness    of the coordinate system
 */
public record Conventions(double metresPerUnit, Axis up, Axis forward, Handedness handedness) {

    /** glTF 2.0, section 3.4: right-handed, +Y up, the front faces +Z, metres. */
    public static final Conventions GLTF = new Conventions(1, Axis.Y, Axis.Z, Handedness.RIGHT);

    public Conventions {
        if (!(metresPerUnit > 0) || Double.isInfinite(metresPerUnit)) {
            throw new IllegalArgumentException("metresPerUnit must be above zero, found " + metresPerUnit);
        }
        if (up.dimension() == forward.dimension()) {
            throw new IllegalArgumentException(
                    "up (" + up.code() + ") and forward (" + forward.code() + ") must be different axes");
        }
    }

    /** Direction of the asset's own left side. */
    public Vector3d left() {
        Vector3d left = up.vector().cross(forward.vector());
        return handedness == Handedness.RIGHT ? left : left.negate();
    }

    /**
     * The convention's short name, such as {@code z-up-cm-lh}; a suffix {@code -fwd-x} is added where the
     * forward axis is not the usual one. Units without a short name are written as metres per unit.
     */
    public String code() {
        String unit = Units.shortName(metresPerUnit).orElse(Double.toString(metresPerUnit) + "m");
        String base = up.code() + "-up-" + unit + (handedness == Handedness.RIGHT ? "-rh" : "-lh");
        return forward == usualForward(up, handedness) ? base : base + "-fwd-" + forward.code();
    }

    /**
     * Reads a short name: {@code <axis>-up-<unit>-<rh|lh>[-fwd-<axis>]}, units m, cm, mm, dm, in, ft and others by their length
     * in metres, such as {@code 0.0125m}.
     *
     * @return empty when the text is not of that form
     */
    public static Optional<Conventions> parse(String text) {
        String rest = text.strip().toLowerCase(Locale.ROOT);
        Optional<Axis> forward = Optional.empty();
        int mark = rest.indexOf("-fwd-");
        if (mark >= 0) {
            forward = Axis.parse(rest.substring(mark + 5));
            if (forward.isEmpty()) {
                return Optional.empty();
            }
            rest = rest.substring(0, mark);
        }
        int upEnd = rest.indexOf("-up-");
        int handStart = rest.lastIndexOf('-');
        if (upEnd < 0 || handStart <= upEnd + 3) {
            return Optional.empty();
        }
        Optional<Axis> up = Axis.parse(rest.substring(0, upEnd));
        Optional<Double> unit = unit(rest.substring(upEnd + 4, handStart));
        Handedness hand = switch (rest.substring(handStart + 1)) {
            case "rh" -> Handedness.RIGHT;
            case "lh" -> Handedness.LEFT;
            default -> null;
        };
        if (up.isEmpty() || unit.isEmpty() || hand == null) {
            return Optional.empty();
        }
        Axis front = forward.orElse(usualForward(up.get(), hand));
        if (front.dimension() == up.get().dimension()) {
            return Optional.empty();
        }
        return Optional.of(new Conventions(unit.get(), up.get(), front, hand));
    }

    private static Optional<Double> unit(String text) {
        Optional<Double> named = Units.metresPer(text);
        if (named.isPresent() || !text.matches("[0-9.]{1,20}(e-?[0-9]{1,3})?m")) {
            return named;
        }
        try {
            return Optional.of(Double.parseDouble(text.substring(0, text.length() - 1)))
                    .filter(m -> m > 0 && m < Double.POSITIVE_INFINITY);
        } catch (NumberFormatException e) {
            return Optional.empty();
        }
    }

    /**
     * The forward axis that goes with an up axis when none is named: glTF's for Y-up; for Z-up what glTF's
     * becomes under +90 degrees about X (right-handed), and its mirror image (left-handed).
     */
    private static Axis usualForward(Axis up, Handedness hand) {
        return switch (up) {
            case Z -> hand == Handedness.RIGHT ? Axis.MINUS_Y : Axis.Y;
            case Y, X, MINUS_X, MINUS_Y -> Axis.Z;
            case MINUS_Z -> Axis.Y;
        };
    }
}
