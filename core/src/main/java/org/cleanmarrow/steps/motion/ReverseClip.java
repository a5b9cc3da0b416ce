package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Plays clips from their last frame to their first, over the same frames. What is stepped is on every frame what it was on
 * the frame it comes from.
 */
@StepInfo(name = "reverse-clip", says = "Plays clips from their last frame to their first.")
public record ReverseClip(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips) implements Step {
    @Override
    public boolean reinterprets() {
        return true;
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return Clips.each(asset, clips, work, clip -> {
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : clip.channels()) {
                if (channel.movesVertices()) {
                    throw new Refused("reverse.cache", clip.name());
                }
                channels.add(channel.withTrack(reversed(clip, channel.sampler())));
            }
            return Timing.spanning(clip.withChannels(channels).withRate(clip.rate()), clip.start(), clip.end());
        });
    }

    private static Sampler reversed(Clip clip, Sampler s) {
        boolean step = s.interpolation() == Sampler.Interpolation.STEP;
        int keys = s.times().length;
        int stride = s.stride();
        float[] times = new float[keys];
        float[] values = new float[s.values().length];
        for (int k = 0; k < keys; k++) {
            int from = keys - 1 - k;
            // A step holds until the frame before the next key.
            double shown = step && from < keys - 1
                    ? Math.max(s.times()[from], s.times()[from + 1] - 1 / clip.rate())
                    : s.times()[from];
            times[k] = mirrored(clip, shown);
            if (k > 0 && times[k] <= times[k - 1]) {
                times[k] = Math.nextUp(times[k - 1]);
            }
            System.arraycopy(s.values(), from * stride, values, k * stride, stride);
            if (stride > s.width()) {
                turnTangents(values, k * stride, s.width());
            }
        }
        return new Sampler(s.interpolation(), times, values, s.width(), s.storage());
    }

    /** As far from the clip's start as a moment was from its end; a frame is one again, to the last bit. */
    private static float mirrored(Clip clip, double seconds) {
        return Timing.snapped(clip.start() + (clip.end() - seconds), clip.rate());
    }

    /** In-tangent and out-tangent change places and signs. */
    private static void turnTangents(float[] values, int at, int width) {
        for (int i = 0; i < width; i++) {
            float in = values[at + i];
            values[at + i] = -values[at + 2 * width + i];
            values[at + 2 * width + i] = -in;
        }
    }
}
