package org.cleanmarrow.steps.motion;

import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Whether clips are meant to play round; no key changes. */
@StepInfo(name = "set-loop", says = "Marks clips as loops, or as playing once.")
public record SetLoop(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "true: they play round; false: once", fallback = "true")
        boolean loop)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return Clips.each(asset, clips, work, clip -> clip.loop() == loop ? clip : clip.withLoop(loop));
    }
}
