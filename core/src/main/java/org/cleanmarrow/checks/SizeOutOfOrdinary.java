package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.steps.CorrectUnit;
import org.joml.Vector3d;

/**
 * An asset far too large or small for anything a character artist hands over; the unit mix-up is named where a
 * skinned asset would be of a person's size without it.
 */
public final class SizeOutOfOrdinary implements Check {
    /** From a button to a large building, in metres (common practice). */
    private static final double LEAST = 0.005;

    private static final double MOST = 60;
    /** What people wear, hold and sit in (common practice). */
    private static final double HELD_LEAST = 0.1;

    private static final double HELD_MOST = 3;

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
        Conventions c = asset.conventions();
        Vector3d size = box.size().mul(c.metresPerUnit());
        double largest = Math.max(size.x, Math.max(size.y, size.z));
        boolean ordinary = largest >= LEAST && largest <= MOST;
        boolean skinned = !asset.skins().isEmpty();
        List<Finding> out = new ArrayList<>();
        if (skinned && (largest > BEYOND_PERSON || largest < PERSON_LEAST / 8)) {
            for (MixUps.MixUp mixUp : MixUps.ALL) {
                double real = largest / mixUp.factor();
                if (real >= PERSON_LEAST && real <= PERSON_MOST) {
                    boolean certain = largest > 2 * BEYOND_PERSON || largest < 1;
                    out.add(Finding.of(
                                    this,
                                    certain ? Severity.BLOCKER : Severity.CAUTION,
                                    "mixup." + mixUp.key(),
                                    "",
                                    1,
                                    Units.say(largest),
                                    Units.say(real),
                                    factor(mixUp.factor()))
                            .fixedBy(new CorrectUnit(1 / mixUp.factor())));
                    return out;
                }
            }
        }
        if (!ordinary) {
            out.add(likely(c, largest));
        }
        return out;
    }

    /** What would bring it to a size that can be worn or held, where some mix-up does. */
    private Finding likely(Conventions c, double largest) {
        for (MixUps.MixUp mixUp : MixUps.ALL) {
            double real = largest / mixUp.factor();
            if (real >= HELD_LEAST && real <= HELD_MOST) {
                return Finding.of(
                                this,
                                Severity.CAUTION,
                                "likely",
                                "",
                                1,
                                Units.say(largest),
                                Units.say(real),
                                mixUp.was(),
                                mixUp.taken())
                        .fixedBy(new CorrectUnit(1 / mixUp.factor()));
            }
        }
        return Finding.of(this, Severity.CAUTION, "", "", 1, Units.say(largest));
    }

    private static String factor(double factor) {
        String text = String.format(Locale.ROOT, factor >= 1 ? "%.2f" : "%.4f", factor);
        return text.replaceAll("0+$", "").replaceAll("\\.$", "");
    }
}
