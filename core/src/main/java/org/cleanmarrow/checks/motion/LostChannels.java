package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.steps.motion.RemoveLostChannels;

/** Clip channels whose node is gone. */
public final class LostChannels implements Check {
    @Override
    public String id() {
        return "lost-channels";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            List<Channel> lost =
                    clip.channels().stream().filter(RemoveLostChannels::isLost).toList();
            if (lost.isEmpty()) {
                continue;
            }
            String gone = lost.stream()
                    .map(Channel::target)
                    .filter(t -> !t.isEmpty())
                    .findFirst()
                    .orElse("");
            Finding finding = gone.isEmpty()
                    ? Finding.of(this, Severity.CAUTION, "", clip.name(), lost.size(), clip.name(), lost.size())
                    : Finding.of(
                            this, Severity.CAUTION, "named", clip.name(), lost.size(), clip.name(), lost.size(), gone);
            out.add(finding.at(Finding.Place.clip(c)).fixedBy(new RemoveLostChannels()));
        }
        return out;
    }
}
