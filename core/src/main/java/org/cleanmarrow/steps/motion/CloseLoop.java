package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.measure.Seam;
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

        @Parameter(
                says = "how many of the last frames change",
                fallback = "8",
                unit = "frames",
                least = 1,
                most = LeadIn.MOST)
        int frames)
        implements Step {

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        ClipDifference difference = new ClipDifference(asset);
        double[] gap = {0};
        Change change = Clips.each(asset, clips, work, clip -> {
            if (frames < 1 || frames > LeadIn.MOST || frames >= clip.lastFrame() - clip.firstFrame()) {
                throw new Refused(
                        "loop.frames",
                        clip.name(),
                        frames,
                        Math.min(LeadIn.MOST, clip.lastFrame() - clip.firstFrame() - 1));
            }
            gap[0] = Math.max(gap[0], Seam.of(difference, clip, work).metres());
            List<Channel> channels = new ArrayList<>();
            for (Channel channel : clip.channels()) {
                channels.add(closed(clip, channel));
            }
            return clip.withChannels(channels).withRate(clip.rate()).withLoop(true);
        });
        return change.note("loop.gap", new Length(gap[0]));
    }

    private Channel closed(Clip clip, Channel channel) {
        boolean moves = channel.node() >= 0 && channel.track() instanceof Sampler;
        if (!moves || channel.sampler().interpolation() == Sampler.Interpolation.STEP) {
            return channel;
        }
        boolean rotation = channel.path() == Channel.Path.ROTATION;
        double from = Timing.seconds(clip, clip.lastFrame() - frames);
        Sampler s = Timing.withKeys(channel.sampler(), rotation, Timing.frames(from, clip.end(), clip.rate()));
        float[] ends = Timing.keyed(channel, new float[] {(float) clip.start(), (float) clip.end()})
                .sampler()
                .values();
        Closing closing = new Closing(ends, rotation, from, clip.end());
        float[] values = s.values().clone();
        for (int k = 0; k < s.times().length; k++) {
            if (s.times()[k] > from) {
                closing.key(values, k * s.stride(), s.width(), s.times()[k], s.stride() > s.width());
            }
        }
        return channel.withTrack(new Sampler(s.interpolation(), s.times(), values, s.width(), Storage.FLOAT));
    }

    /** What is missing between a channel's last and first value, added from a time on: nothing there, all of it at the end. */
    private static final class Closing {
        private static final double BESIDE = 1e-5;

        private final boolean rotation;
        private final double from;
        private final double to;
        private final double[] missing;
        private final Quaterniond turn;

        Closing(float[] ends, boolean rotation, double from, double to) {
            this.rotation = rotation;
            this.from = from;
            this.to = to;
            int w = ends.length / 2;
            missing = new double[w];
            for (int i = 0; i < w; i++) {
                missing[i] = (double) ends[i] - ends[w + i];
            }
            turn = rotation ? quaternion(ends, 0).mul(quaternion(ends, 4).conjugate()) : new Quaterniond();
        }

        private static Quaterniond quaternion(float[] v, int at) {
            return new Quaterniond(v[at], v[at + 1], v[at + 2], v[at + 3]);
        }

        private double share(double seconds) {
            double u = Math.clamp((seconds - from) / (to - from), 0, 1);
            return u * u * (3 - 2 * u);
        }

        private double slope(double seconds) {
            return (share(seconds + BESIDE) - share(seconds - BESIDE)) / (2 * BESIDE);
        }

        /** Changes one key; of a cubic spline its tangents too. */
        void key(float[] values, int at, int width, double seconds, boolean cubic) {
            int value = at + (cubic ? width : 0);
            if (!rotation) {
                for (int i = 0; i < width; i++) {
                    values[value + i] += (float) (share(seconds) * missing[i]);
                    if (cubic) {
                        values[at + i] += (float) (slope(seconds) * missing[i]);
                        values[at + 2 * width + i] += (float) (slope(seconds) * missing[i]);
                    }
                }
                return;
            }
            Quaterniond now = new Quaterniond().slerp(turn, share(seconds));
            Quaterniond before = new Quaterniond().slerp(turn, share(seconds - BESIDE));
            Quaterniond after = new Quaterniond().slerp(turn, share(seconds + BESIDE));
            Quaterniond turning = new Quaterniond(
                    (after.x - before.x) / (2 * BESIDE),
                    (after.y - before.y) / (2 * BESIDE),
                    (after.z - before.z) / (2 * BESIDE),
                    (after.w - before.w) / (2 * BESIDE));
            Quaterniond own = quaternion(values, value);
            for (int tangent = 0; cubic && tangent <= 8; tangent += 8) {
                // The product rule: a turn beside another.
                Quaterniond slope = new Quaterniond(now).mul(quaternion(values, at + tangent));
                Quaterniond more = new Quaterniond(turning).mul(own);
                put(slope.add(more), values, at + tangent);
            }
            put(now.mul(own), values, value);
        }

        private static void put(Quaterniond q, float[] values, int at) {
            values[at] = (float) q.x;
            values[at + 1] = (float) q.y;
            values[at + 2] = (float) q.z;
            values[at + 3] = (float) q.w;
        }
    }
}
