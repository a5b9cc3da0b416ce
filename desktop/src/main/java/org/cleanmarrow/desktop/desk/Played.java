package org.cleanmarrow.desktop.desk;

import java.util.List;
import java.util.Optional;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.trial.TrialPose;

/**
 * What is shown of time.
 *
 * @param clip  name of the clip in hand; empty for none
 * @param trial a pose that is held in place of a clip; null for none
 * @param along names of clips that play along with the one in hand
 * @param range frames of the clip in hand; null for none
 */
record Played(String clip, TrialPose trial, List<String> along, Playback.Frames range) {
    static final Played NOTHING = new Played("", null, List.of(), null);

    /** Takes another clip in hand, with nothing else; none leaves a pose held. */
    Played withClip(String name) {
        return name.equals(clip) ? this : new Played(name, name.isEmpty() ? trial : null, List.of(), null);
    }

    Played withAlong(List<String> names) {
        return new Played(clip, trial, List.copyOf(names), range);
    }

    Played withRange(Playback.Frames frames) {
        return new Played(clip, trial, along, frames);
    }

    static Played holding(TrialPose pose) {
        return new Played("", pose, List.of(), null);
    }

    /** The clip of an asset that has the name in hand, whatever is held. */
    Optional<Clip> picked(Asset asset) {
        int found = asset.findClip(clip);
        return found < 0 ? Optional.empty() : Optional.of(asset.clips().get(found));
    }

    /** What of it another asset has as well: the clip in hand, and frames of it. */
    Played on(Asset asset) {
        Optional<Clip> picked = picked(asset);
        Played out = trial == null && picked.isEmpty() ? withClip("") : this;
        boolean there = out.range != null
                && picked.filter(c -> out.range.first() >= c.firstFrame() && out.range.last() <= c.lastFrame())
                        .isPresent();
        return there ? out : out.withRange(null);
    }
}
