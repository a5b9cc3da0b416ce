package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** A clip once more under another name, right behind it. The keys are held once until one of the two changes. */
@StepInfo(name = "duplicate-clip", says = "Adds a copy of a clip under another name.")
public record DuplicateClip(
        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "name of the copy") String name) implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Clips.number(asset, clip);
        Clips.free(asset, name);
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.add(number + 1, clips.get(number).withName(name));
        return Change.of(asset.withClips(clips)).count("clips.made", 1);
    }
}
