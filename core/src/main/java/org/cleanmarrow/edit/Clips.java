package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.naming.NamePattern;
import org.cleanmarrow.query.Inventory;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;

/** Changes clips that are chosen by their names. */
public final class Clips {
    private Clips() {}

    /** What becomes of one clip; the very same clip where nothing does. */
    public interface Edit {
        Clip of(Clip clip) throws Refused;
    }

    /**
     * Number of the clip that a name means.
     *
     * @throws Refused where there is none
     */
    public static int number(Asset asset, String name) throws Refused {
        int number = asset.findClip(name);
        if (number < 0) {
            throw new Refused("no.clip", name);
        }
        return number;
    }

    /**
     * Changes all clips that a pattern of names fits; those without channels stay.
     *
     * @throws Refused where it fits none, or one cannot be changed
     */
    public static Change each(Asset asset, String clips, Work work, Edit edit) throws Refused {
        NamePattern pattern = new NamePattern(clips);
        List<Clip> out = new ArrayList<>(asset.clips());
        int fits = 0;
        int changed = 0;
        for (int c = 0; c < out.size(); c++) {
            work.stopIfCancelled();
            Clip clip = out.get(c);
            if (!pattern.fits(clip.name()) && !pattern.fits(Inventory.clipRef(asset, c))) {
                continue;
            }
            fits++;
            Clip now = clip.channels().isEmpty() ? clip : edit.of(clip);
            changed += now == clip ? 0 : 1;
            out.set(c, now);
            work.at((c + 1.0) / out.size(), clip.name());
        }
        if (fits == 0) {
            throw new Refused("no.clips", clips);
        }
        return Change.of(changed == 0 ? asset : asset.withClips(out)).count("clips.changed", changed);
    }

    /** Frames of a clip, both ends counted, as a sentence says them. */
    public static String range(Clip clip) {
        return clip.firstFrame() + ".." + clip.lastFrame();
    }

    /** @throws Refused where a range of frames is not within the clip's */
    public static void within(Clip clip, int first, int last) throws Refused {
        if (first >= last || first < clip.firstFrame() || last > clip.lastFrame()) {
            throw new Refused("clip.range", clip.name(), first + ".." + last, range(clip));
        }
    }
}
