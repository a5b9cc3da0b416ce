package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Budget;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;

/** Clips that last longer than the target takes. */
public final class ClipLength implements Check {
    @Override
    public String id() {
        return "clip-length";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        double most = examination.target().most(Budget.CLIP_SECONDS);
        List<Finding> out = new ArrayList<>();
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            // A key time is a float: what is over by its rounding alone is not over.
            if (clip.ships() && clip.seconds() > most + Math.ulp((float) clip.end())) {
                out.add(Finding.of(this, Severity.BLOCKER, "", clip.name(), 1, clip.name(), clip.seconds(), most)
                        .at(Finding.Place.clip(c)));
            }
        }
        return out;
    }
}
