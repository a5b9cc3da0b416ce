package org.cleanmarrow.steps.motion;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/** Gives clips tags, which every step that chooses clips by name takes as {@code tag:word}; glTF keeps them as extras. */
@StepInfo(name = "tag-clips", says = "Gives clips tags to find them by; steps take tag:word in place of a name.")
public record TagClips(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "tags with commas between; nothing takes all tags off", fallback = "\"\"")
        String tags)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        List<String> words = Arrays.stream(tags.split(","))
                .map(String::strip)
                .filter(w -> !w.isEmpty())
                .distinct()
                .toList();
        for (String word : words) {
            if (!Clips.isTag(word)) {
                throw new Refused("clip.tag", word);
            }
        }
        return Clips.each(asset, clips, work, clip -> clip.tags().equals(words) ? clip : clip.withTags(words));
    }
}
