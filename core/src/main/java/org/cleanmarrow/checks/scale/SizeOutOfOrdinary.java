package org.cleanmarrow.checks.scale;

import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.query.Skeletons;
import org.cleanmarrow.roles.Body;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.text.Length;
import org.joml.Vector3d;

/**
 * An asset far too large or small for anything a character artist hands over; the unit mix-up is named where the
 * kind of body would be of a plausible size without it.
 */
public final class SizeOutOfOrdinary implements Check {
    /** From a button to a large building, in metres (common practice). */
    private static final double LEAST = 0.005;

    private static final double MOST = 60;
    /** What people wear, hold and sit in (common practice). */
    private static final double HELD_LEAST = 0.1;

    private static final double HELD_MOST = 3;

    /** A mesh this many times its own skeleton, or the other way round, is in another unit than that. */
    private static final double APART = 15;

    /** A person stands 1.4 to 2.1 m (common practice). */
    private static final double PERSON_LEAST = 1.4;

    private static final double PERSON_MOST = 2.1;

    /** Creatures may well be this tall; beyond it a mix-up is likely, beyond twice that nearly certain. */
    private static final double BEYOND_PERSON = 5;

    @Override
    public String id() {
        return "size";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Box box = examination.box();
        Asset asset = examination.asset();
        if (box.isEmpty()) {
            return List.of();
        }
        double metres = asset.conventions().metresPerUnit();
        Vector3d size = box.size().mul(metres);
        double largest = Math.max(size.x, Math.max(size.y, size.z));
        Body.Kind kind = examination.body().kind();
        boolean body = kind != Body.Kind.PROP && kind != Body.Kind.CHAIN;
        double skeleton = skeleton(examination) * metres;
        double ratio = skeleton > 0 ? box.diagonal() * metres / skeleton : 1;
        if (body && (ratio > APART || ratio < 1 / APART)) {
            return List.of(Finding.of(
                    this,
                    Severity.CAUTION,
                    "skeleton",
                    "",
                    1,
                    new Length(box.diagonal() * metres),
                    new Length(skeleton),
                    String.format(Locale.ROOT, "%.3g", ratio)));
        }
        return switch (kind) {
            case PERSON -> person(largest);
            case BIRD -> creature(kind, largest, 0.15, 1.8);
            case QUADRUPED -> creature(kind, largest, 0.2, 3.2);
            case HAND -> creature(kind, largest, 0.12, 0.3);
            case CHAIN, PROP -> largest >= LEAST && largest <= MOST ? List.of() : List.of(likely(largest));
        };
    }

    /** Size of the box around all joints that bear weight at rest, in the asset's unit; 0 where fewer than four do. */
    private static double skeleton(Examination examination) {
        Box box = Box.empty();
        BitSet bearing = Skeletons.bearing(examination.asset());
        bearing.stream().forEach(n -> {
            Vector3d at = examination.world()[n].getTranslation(new Vector3d());
            box.grow(at.x, at.y, at.z);
        });
        return bearing.cardinality() < 4 ? 0 : box.diagonal();
    }

    private List<Finding> person(double largest) {
        if (largest <= BEYOND_PERSON && largest >= PERSON_LEAST / 8) {
            return List.of();
        }
        for (MixUps.MixUp mixUp : MixUps.ALL) {
            double real = largest / mixUp.factor();
            if (real >= PERSON_LEAST && real <= PERSON_MOST) {
                boolean certain = largest > 2 * BEYOND_PERSON || largest < 1;
                return List.of(Finding.of(
                                this,
                                certain ? Severity.BLOCKER : Severity.CAUTION,
                                "mixup." + mixUp.key(),
                                "",
                                1,
                                new Length(largest),
                                new Length(real),
                                factor(mixUp.factor()))
                        .fixedBy(new CorrectUnit(1 / mixUp.factor())));
            }
        }
        return largest >= LEAST && largest <= MOST ? List.of() : List.of(likely(largest));
    }

    /** Creatures come in many sizes, so only what is far from all of them is told, with the commonest mix-up that would do. */
    private List<Finding> creature(Body.Kind kind, double largest, double least, double most) {
        if (largest >= least / 2.5 && largest <= most * 2.5) {
            return List.of();
        }
        for (MixUps.MixUp mixUp : MixUps.ALL) {
            double real = largest / mixUp.factor();
            if (real >= least && real <= most) {
                return List.of(Finding.of(
                                this,
                                Severity.CAUTION,
                                "kind",
                                "",
                                1,
                                kind.code(),
                                new Length(largest),
                                mixUp.was(),
                                mixUp.taken(),
                                new Length(real))
                        .fixedBy(new CorrectUnit(1 / mixUp.factor())));
            }
        }
        return largest >= LEAST && largest <= MOST ? List.of() : List.of(likely(largest));
    }

    /** What would bring it to a size that can be worn or held, where some mix-up does. */
    private Finding likely(double largest) {
        for (MixUps.MixUp mixUp : MixUps.ALL) {
            double real = largest / mixUp.factor();
            if (real >= HELD_LEAST && real <= HELD_MOST) {
                return Finding.of(
                                this,
                                Severity.CAUTION,
                                "likely",
                                "",
                                1,
                                new Length(largest),
                                new Length(real),
                                mixUp.was(),
                                mixUp.taken())
                        .fixedBy(new CorrectUnit(1 / mixUp.factor()));
            }
        }
        return Finding.of(this, Severity.CAUTION, "", "", 1, new Length(largest));
    }

    private static String factor(double factor) {
        String text = String.format(Locale.ROOT, factor >= 1 ? "%.2f" : "%.4f", factor);
        return text.replaceAll("0+$", "").replaceAll("\\.$", "");
    }
}
