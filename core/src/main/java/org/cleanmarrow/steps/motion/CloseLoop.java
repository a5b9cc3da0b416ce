package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.joml.Quaterniond;

/**
 * Leads the last frames of clips to their first pose, so that they play round without a jump: what is missing at the end is
 * added bit by bit, evenly at first and at last (3u^2 - 2u^3), so that the way there keeps its shape. The clips are marked as
 * loops. Steps and vertex caches stay as they are.
 */
@StepInfo(name = "close-loop", says = "Leads the last frames of clips to their first pose, and marks them as loops.")
public record CloseLoop(
        @Parameter(says = "names of the clips, with * for any run of characters")
        String clips,

        @Parameter(says = "how many of the last frames change", fallback = "8")
        int frames)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        ClipDifference difference = new ClipDifference(asset);
        double[] gap = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            if (frames < 1 || frames >= clip.lastFrame() - clip.firstFrame()) {
                throw new Refused("loop.frames", clip.name(), frames, clip.lastFrame() - clip.firstFrame() - 1);
            }
            gap[0] = Math.max(gap[0], gap(clip, difference, work));
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : clip.channels()) {
                channels.add(closed(clip, channel));
            }
            return clip.withChannels(channels).withRate(clip.rate()).withLoop(true);
        });
        return change.note("loop.gap", new Length(gap[0]));
    }

    /** How far the last pose of a clip is from its first at the worst place, in metres. */
    private static double gap(Clip clip, ClipDifference difference, Work work) {
        int length = clip.lastFrame() - clip.firstFrame();
        Clip late = Timing.shifted(clip, length);
        return difference.source(clip, new double[] {late.start()}, false, work).from(late, work)[0];
    }

    private Channel closed(Clip clip, Channel channel) {
        boolean moves = channel.node() >= 0 && channel.track() instanceof Sampler;
        if (!moves || channel.sampler().interpolation() == Sampler.Interpolation.STEP) {
            return channel;
        }
        double from = Timing.seconds(clip, clip.lastFrame() - frames);
        float[] dense = Timing.frames(from, clip.end(), clip.rate());
        boolean rotation = channel.path() == Channel.Path.ROTATION;
        Sampler before = Timing.keyed(channel, new float[] {(float) clip.start(), (float) clip.end()})
                .sampler();
        List<Float> times = new ArrayList<>();
        for (float t : Timing.keyed(channel, Timing.frames(clip.start(), clip.end(), clip.rate()))
                .track()
                .times()) {
            if (t < dense[0] - 1e-5) {
                times.add(t);
            }
        }
        for (float t : dense) {
            times.add(t);
        }
        float[] all = new float[times.size()];
        for (int k = 0; k < all.length; k++) {
            all[k] = times.get(k);
        }
        Sampler s = Timing.keyed(channel, all).sampler();
        float[] values = s.values().clone();
        int w = s.width();
        Quaterniond first = rotation ? turn(before.values(), 0) : new Quaterniond();
        Quaterniond missing =
                rotation ? new Quaterniond(first).mul(turn(before.values(), 4).conjugate()) : first;
        for (int k = 0; k < all.length; k++) {
            double u = Math.clamp((all[k] - (double) dense[0]) / ((double) dense[dense.length - 1] - dense[0]), 0, 1);
            double share = u * u * (3 - 2 * u);
            if (share == 0) {
                continue;
            }
            if (rotation) {
                Quaterniond q = new Quaterniond().slerp(missing, share).mul(turn(values, k * 4));
                values[k * 4] = (float) q.x;
                values[k * 4 + 1] = (float) q.y;
                values[k * 4 + 2] = (float) q.z;
                values[k * 4 + 3] = (float) q.w;
                continue;
            }
            for (int i = 0; i < w; i++) {
                values[k * w + i] += (float) (share * ((double) before.values()[i] - before.values()[w + i]));
            }
        }
        return channel.withTrack(new Sampler(s.interpolation(), all, values, w, Storage.FLOAT));
    }

    private static Quaterniond turn(float[] v, int at) {
        return new Quaterniond(v[at], v[at + 1], v[at + 2], v[at + 3]);
    }
}
