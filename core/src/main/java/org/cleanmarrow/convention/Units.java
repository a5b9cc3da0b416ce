package org.cleanmarrow.convention;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Length units and how a length is said. The inch is 0.0254 m exactly (NIST Special Publication 811, B.8). */
public final class Units {
    private static final Map<String, Double> METRES = new LinkedHashMap<>();

    static {
        METRES.put("m", 1.0);
        METRES.put("cm", 0.01);
        METRES.put("mm", 0.001);
        METRES.put("dm", 0.1);
        METRES.put("km", 1000.0);
        METRES.put("in", 0.0254);
        METRES.put("ft", 0.3048);
        METRES.put("yd", 0.9144);
    }

    private Units() {}

    /** Metres in one of the named unit; empty when the name is not known. */
    public static Optional<Double> metresPer(String unit) {
        return Optional.ofNullable(METRES.get(unit));
    }

    /** The unit's short name; empty when no named unit has this length (to one part in a million). */
    public static Optional<String> shortName(double metresPerUnit) {
        return METRES.entrySet().stream()
                .filter(e -> Math.abs(e.getValue() / metresPerUnit - 1) < 1e-6)
                .map(Map.Entry::getKey)
                .findFirst();
    }

    /** A length as people say it: {@code 0.002 mm}, {@code 31 cm}, {@code 1.75 m}. */
    public static String say(double metres) {
        double size = Math.abs(metres);
        if (size == 0) {
            return "0 mm";
        }
        if (size < 0.01) {
            return plain(metres * 1000) + " mm";
        }
        return size < 1 ? plain(metres * 100) + " cm" : plain(metres) + " m";
    }

    /**
     * A length in a given unit; feet come with inches.
     *
     * @param unit short name; empty or unknown: whichever suits the length
     */
    public static String sayIn(double metres, String unit) {
        Optional<Double> per = metresPer(unit);
        if (per.isEmpty()) {
            return say(metres);
        }
        if (unit.equals("ft")) {
            double inches = Math.abs(metres) / 0.0254;
            long feet = (long) (inches / 12);
            return String.format(
                    java.util.Locale.ROOT, "%s%d ft %.1f in", metres < 0 ? "-" : "", feet, inches - 12 * feet);
        }
        return plain(metres / per.get()) + " " + unit;
    }

    private static String plain(double value) {
        double size = Math.abs(value);
        if (size < 0.0005) {
            return "under 0.001";
        }
        int digits = size < 1 ? 3 : size < 10 ? 2 : size < 100 ? 1 : 0;
        String text = String.format(java.util.Locale.ROOT, "%." + digits + "f", value);
        return digits == 0 ? text : text.replaceAll("0+$", "").replaceAll("\\.$", "");
    }
}
