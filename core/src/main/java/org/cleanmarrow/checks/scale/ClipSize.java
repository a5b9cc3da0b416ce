package org.cleanmarrow.checks.scale;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.cleanmarrow.convention.MixUps;
import org.cleanmarrow.edit.BoneLengths;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.scale.ScaleClip;

/** Clips whose joints are a unit's factor further from their parents than the skeleton's at rest. */
public final class ClipSize implements Check {
    /** How near a ratio must come to a factor, where one joint tells it and where many do. */
    private static final double ONE = 0.15;

    private static final double MANY = 0.03;

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
            Optional<MixUps.MixUp> mixUp = mixUp(asset, clip);
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

    /** By the middle, over joints, of the ratios between keyed and rest distances. */
    private static Optional<MixUps.MixUp> mixUp(Asset asset, Clip clip) {
        boolean[] joint = asset.jointFlags();
        double[] ratios = clip.channels().stream()
                .filter(c -> c.node() >= 0 && joint[c.node()] && c.path() == Channel.Path.TRANSLATION)
                .map(c -> new BoneLengths(asset, c))
                .filter(l -> l.rest() > 0)
                .mapToDouble(l -> 1 / l.factor())
                .sorted()
                .toArray();
        // One joint alone may crouch or jump; many keep their distances.
        return ratios.length == 0
                ? Optional.empty()
                : MixUps.of(ratios[ratios.length / 2], ratios.length == 1 ? ONE : MANY);
    }
}
