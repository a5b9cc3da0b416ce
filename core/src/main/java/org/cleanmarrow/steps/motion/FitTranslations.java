package org.cleanmarrow.steps.motion;

import java.util.Arrays;
import java.util.List;
import org.cleanmarrow.edit.BodyCarriers;
import org.cleanmarrow.edit.BoneLengths;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Scales the translation keys of joints that should only turn so that each joint is, in the middle of its keys, as far from what it
 * hangs on as it is at rest: for clips made on a skeleton of other proportions whose small shifts are wanted. Which joints may travel is as
 * in {@link RotationOnly}, which drops the keys instead.
 */
@StepInfo(
        name = "fit-translations",
        says = "Scales translation keys of joints that should only turn to the lengths that the skeleton has at rest.")
public record FitTranslations(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "names of joints that keep theirs, with * for any run of characters", fallback = "\"\"")
        String keep)
        implements Step {
    /** Lengths as near as this, as a share, are one. */
    private static final double SAME = 1e-4;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        boolean[] carries = BodyCarriers.of(asset, keep);
        int[] fitted = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            int before = fitted[0];
            List<Channel> channels = clip.channels().stream()
                    .map(c -> {
                        boolean its = c.path() == Channel.Path.TRANSLATION && c.node() >= 0 && !carries[c.node()];
                        double factor = its ? new BoneLengths(asset, c).factor() : 1;
                        if (Math.abs(factor - 1) <= SAME) {
                            return c;
                        }
                        fitted[0]++;
                        return c.withTrack(scaled(c.sampler(), factor));
                    })
                    .toList();
            return fitted[0] == before ? clip : clip.withChannels(channels);
        });
        return change.count("channels.fitted", fitted[0]);
    }

    private static Sampler scaled(Sampler s, double factor) {
        float[] values = Arrays.copyOf(s.values(), s.values().length);
        for (int i = 0; i < values.length; i++) {
            values[i] = (float) (values[i] * factor);
        }
        return new Sampler(s.interpolation(), s.times(), values, s.width(), Storage.FLOAT);
    }
}
