package org.cleanmarrow.steps.motion;

import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Moves clips on their time line. No clip may begin before time 0, which glTF does not allow. */
@StepInfo(name = "shift-clip", says = "Moves all keys of clips by whole frames.")
public record ShiftClip(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "how much later; below zero: earlier", unit = "frames")
        int frames)
        implements Step {
    private static final int MOST = 1_000_000;

    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return Clips.each(asset, clips, work, clip -> {
            if (clip.start() * clip.rate() + frames < -1e-3 || Math.abs((long) frames) > MOST) {
                throw new Refused("clip.shift", clip.name(), frames, clip.firstFrame());
            }
            return frames == 0 ? clip : Timing.shifted(clip, frames);
        });
    }
}
