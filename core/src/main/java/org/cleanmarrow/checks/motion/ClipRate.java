package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.Resample;

/** Clips at a rate of frames that the target does not have. */
public final class ClipRate implements Check {
    /** Rates such as 30000/1001 are written rounded. */
    private static final double SAME = 1e-4;

    @Override
    public String id() {
        return "clip-rate";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Double> rates = examination.target().rules().rates();
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            double rate = clip.rate();
            boolean any = rates.isEmpty() || rates.stream().anyMatch(r -> Math.abs(r - rate) < SAME * r);
            if (!clip.ships() || any || clip.channels().isEmpty()) {
                continue;
            }
            double nearest = rates.stream()
                    .min(Comparator.comparingDouble(r -> Math.abs(r - rate)))
                    .orElseThrow();
            String all = rates.stream().map(ClipRate::plain).collect(Collectors.joining(", "));
            out.add(Finding.of(this, Severity.BLOCKER, "", clip.name(), 1, clip.name(), plain(rate), all)
                    .at(Finding.Place.clip(c))
                    .fixedBy(new Resample(NamePattern.exactly(clip.name()), nearest)));
        }
        return out;
    }

    private static String plain(double rate) {
        return rate == Math.rint(rate)
                ? Long.toString((long) rate)
                : String.format(java.util.Locale.ROOT, "%.3f", rate);
    }
}
