package org.cleanmarrow.checks;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.asset.Asset;
import org.cleanmarrow.asset.Channel;
import org.cleanmarrow.asset.Clip;
import org.cleanmarrow.asset.Sampler;
import org.cleanmarrow.check.Check;
import org.cleanmarrow.check.Examination;
import org.cleanmarrow.check.Finding;
import org.cleanmarrow.check.Severity;
import org.cleanmarrow.check.Station;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.steps.ScaleClip;

/** Clips whose joints are a unit's factor further from their parents than the skeleton's at rest. */
public final class ClipSize implements Check {
    @Override
    public String id() {
        return "clip-size";
    }

    @Override
    public Station station() {
        return Station.SCALE_AND_AXES;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            Optional<MixUps.MixUp> mixUp = MixUps.of(factor(asset, clip));
            if (mixUp.isPresent()) {
                MixUps.MixUp found = mixUp.get();
                String factor = String.format(java.util.Locale.ROOT, "%.4g", found.factor());
                out.add(Finding.of(
                                this,
                                Severity.BLOCKER,
                                "",
                                clip.name(),
                                1,
                                clip.name(),
                                factor,
                                found.was(),
                                found.taken())
                        .at(Finding.Place.clip(c))
                        .fixedBy(new ScaleClip(clip.name(), 1 / found.factor())));
            }
        }
        return out;
    }

    /** Middle of the ratios between keyed and rest distances; 1 where no joint has both. */
    private static double factor(Asset asset, Clip clip) {
        boolean[] joint = asset.jointFlags();
        List<Double> ratios = new ArrayList<>();
        for (Channel channel : clip.channels()) {
            if (channel.node() < 0 || !joint[channel.node()] || channel.path() != Channel.Path.TRANSLATION) {
                continue;
            }
            double rest = asset.nodes().get(channel.node()).local().position().length();
            Sampler s = channel.sampler();
            int at = s.interpolation() == Sampler.Interpolation.CUBICSPLINE ? 3 : 0;
            double keyed = Math.sqrt(square(s.values()[at]) + square(s.values()[at + 1]) + square(s.values()[at + 2]));
            if (rest > 0 && keyed > 0) {
                ratios.add(keyed / rest);
            }
        }
        Collections.sort(ratios);
        return ratios.isEmpty() ? 1 : ratios.get(ratios.size() / 2);
    }

    private static double square(double x) {
        return x * x;
    }
}
