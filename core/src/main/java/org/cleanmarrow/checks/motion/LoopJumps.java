package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.measure.Seam;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.CloseLoop;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Work;

/** Clips that are marked as loops and jump where they begin again. */
public final class LoopJumps implements Check {
    /** A share of the asset's size; 3.6 mm on a person is seen (from memory). */
    private static final double SEEN = 0.002;

    private static final int FRAMES = 8;

    @Override
    public String id() {
        return "loop-jump";
    }

    @Override
    public Station station() {
        return Station.MOTION;
    }

    @Override
    public List<Finding> run(Examination examination) {
        Asset asset = examination.asset();
        List<Finding> out = new ArrayList<>();
        double seen = SEEN * examination.box().diagonal() * asset.conventions().metresPerUnit();
        ClipDifference on = null;
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            int length = clip.lastFrame() - clip.firstFrame();
            if (!clip.loop() || !(clip.seconds() > 0)) {
                continue;
            }
            on = on == null ? new ClipDifference(asset) : on;
            double jump = on.jump(clip);
            if (jump > seen / 2 && jump < seen * 2) {
                // Few vertices tell whether it is much or nothing; all of them, what lies between.
                jump = Seam.of(on, clip, Work.QUIET).metres();
            }
            if (jump > seen) {
                Finding found = Finding.of(this, Severity.CAUTION, "", clip.name(), 1, clip.name(), new Length(jump))
                        .at(Finding.Place.clip(c));
                boolean closes = length > 2 && clip.channels().stream().noneMatch(Channel::movesVertices);
                out.add(
                        closes
                                ? found.fixedBy(
                                        new CloseLoop(NamePattern.exactly(clip.name()), Math.min(FRAMES, length / 2)))
                                : found);
            }
        }
        return out;
    }
}
