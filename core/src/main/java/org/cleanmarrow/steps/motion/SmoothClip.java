package org.cleanmarrow.steps.motion;

import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.LowPass;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Takes the noise from recorded clips by a low-pass filter without delay ({@link LowPass}), on every frame. Rotations are filtered
 * as quaternions on one side and made unit again, which is right for the small turns from frame to frame. Steps and vertex
 * caches stay. What it costs is how far the step moves the skin.
 */
@StepInfo(
        name = "smooth-clip",
        says = "Takes noise from clips: what trembles faster than a frequency goes, without delay.")
public record SmoothClip(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(
                says = "frequency at which half the power is left; 6 is usual for walking",
                fallback = "6",
                unit = "Hz",
                least = 0)
        double hertz)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        return Clips.each(asset, clips, work, clip -> {
            if (!(hertz > 0 && hertz < clip.rate() / 2)) {
                throw new Refused("smooth.hertz", clip.name(), hertz, clip.rate() / 2);
            }
            LowPass filter = new LowPass(hertz, clip.rate());
            float[] times = Timing.frames(clip, clip.rate());
            List<Channel> channels = clip.channels().parallelStream()
                    .map(c -> smoothed(c, times, filter))
                    .toList();
            Clip smooth = clip.withChannels(channels);
            return smooth.withRate(clip.rate());
        });
    }

    private static Channel smoothed(Channel channel, float[] times, LowPass filter) {
        if (!(channel.track() instanceof Sampler s)
                || s.interpolation() == Sampler.Interpolation.STEP
                || channel.path() == Channel.Path.POINTER) {
            return channel;
        }
        Channel keyed = Timing.keyed(channel, times);
        int width = s.width();
        float[] values = keyed.sampler().values().clone();
        for (int i = 0; i < width; i++) {
            double[] way = new double[times.length];
            for (int k = 0; k < way.length; k++) {
                way[k] = values[k * width + i];
            }
            double[] smooth = filter.of(way);
            for (int k = 0; k < way.length; k++) {
                values[k * width + i] = (float) smooth[k];
            }
        }
        for (int k = 0; k < times.length && channel.path() == Channel.Path.ROTATION; k++) {
            unit(values, k * 4);
        }
        return keyed.withTrack(keyed.sampler().withValues(values));
    }

    private static void unit(float[] q, int at) {
        double length = Math.sqrt((double) q[at] * q[at]
                + (double) q[at + 1] * q[at + 1]
                + (double) q[at + 2] * q[at + 2]
                + (double) q[at + 3] * q[at + 3]);
        for (int i = at; i < at + 4 && length > 0; i++) {
            q[i] = (float) (q[i] / length);
        }
    }
}
