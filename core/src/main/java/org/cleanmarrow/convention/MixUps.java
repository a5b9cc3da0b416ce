package org.cleanmarrow.convention;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Factors that lengths are off by when one unit was taken for another. The inch is 0.0254 m and the foot 0.3048 m
 * exactly (NIST Special Publication 811, B.8).
 */
public final class MixUps {
    private static final double NEAR = 0.01;

    private MixUps() {}

    /**
     * One mix-up.
     *
     * @param factor how many times too large lengths are
     * @param was    unit that the numbers are in
     * @param taken  unit that they were taken for
     */
    public record MixUp(double factor, String was, String taken) {
        static MixUp of(String was, String taken) {
            return new MixUp(
                    Units.metresPer(taken).orElseThrow() / Units.metresPer(was).orElseThrow(), was, taken);
        }

        /** The key of its sentences, such as {@code cm-m}. */
        public String key() {
            return was + "-" + taken;
        }
    }

    /** Those that happen, the commonest first (common practice). */
    public static final List<MixUp> ALL = List.of(
            MixUp.of("cm", "m"),
            MixUp.of("m", "cm"),
            MixUp.of("mm", "m"),
            MixUp.of("m", "mm"),
            MixUp.of("in", "m"),
            MixUp.of("m", "in"),
            MixUp.of("ft", "m"),
            MixUp.of("m", "ft"),
            MixUp.of("cm", "in"),
            MixUp.of("in", "cm"),
            MixUp.of("mm", "cm"),
            MixUp.of("cm", "mm"),
            MixUp.of("mm", "in"),
            MixUp.of("in", "mm"),
            MixUp.of("cm", "ft"),
            MixUp.of("ft", "cm"));

    /** The mix-up that makes lengths this many times too large, to one part in a hundred. */
    public static Optional<MixUp> of(double factor) {
        return of(factor, NEAR);
    }

    /** The mix-up whose factor is nearest, where that is nearer than a share of it. */
    public static Optional<MixUp> of(double factor, double near) {
        return ALL.stream()
                .filter(m -> Math.abs(factor / m.factor - 1) < near)
                .min(Comparator.comparingDouble(m -> Math.abs(Math.log(factor / m.factor))));
    }
}
