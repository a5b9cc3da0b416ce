package org.cleanmarrow.checks.motion;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import org.cleanmarrow.examination.Check;
import org.cleanmarrow.examination.Examination;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.steps.motion.SetLoop;

/** Clips that open or close something by their names, and yet are marked as loops. */
public final class OneWayLoops implements Check {
    private static final Set<String> ONE_WAY = Set.of("open", "opens", "opening", "close", "closes", "closing", "shut");
    private static final Pattern BETWEEN = Pattern.compile("[^\\p{L}]+|(?<=\\p{Ll})(?=\\p{Lu})");

    @Override
    public String id() {
        return "one-way-loop";
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
            boolean oneWay = BETWEEN.splitAsStream(clip.name())
                    .anyMatch(w -> ONE_WAY.contains(w.toLowerCase(java.util.Locale.ROOT)));
            if (clip.loop() && oneWay && !clip.channels().isEmpty()) {
                out.add(Finding.of(this, Severity.CAUTION, "", clip.name(), 1, clip.name())
                        .at(Finding.Place.clip(c))
                        .fixedBy(new SetLoop(NamePattern.exactly(clip.name()), false)));
            }
        }
        return out;
    }
}
