package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Names;
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
 * Takes the keys of one joint out of a clip on a range of frames, so that it goes there from the key before to the key after:
 * for a frame that jumps. Where none is before or after, the nearest key holds; the clip stays as long as it was.
 */
@StepInfo(name = "remove-keys", says = "Takes the keys of one joint out of a clip on a range of frames.")
public record RemoveKeys(
        @Parameter(says = "name of the clip") String clip,

        @Parameter(says = "name of the joint") String joint,

        @Parameter(says = "what of it; all: whatever moves it", fallback = "\"all\"")
        What property,

        @Parameter(says = "first frame, included") int first,

        @Parameter(says = "last frame, included") int last)
        implements Step {
    /** Share of a frame that rounding may put a key off it. */
    private static final double NEAR = 1e-3;

    /** Which of a joint's channels lose keys. */
    public enum What {
        ALL,
        TRANSLATION,
        ROTATION,
        SCALE,
        WEIGHTS;

        boolean takes(Channel channel) {
            return channel.track() instanceof Sampler
                    && channel.path() != Channel.Path.POINTER
                    && (this == ALL || name().equals(channel.path().name()));
        }
    }

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        int number = Clips.number(asset, clip);
        Clip before = asset.clips().get(number);
        int node = Names.node(asset, joint);
        if (first > last) {
            throw new Refused("keys.range", first, last);
        }
        double rate = before.rate();
        List<Channel> channels = new ArrayList<>();
        long removed = 0;
        boolean any = false;
        for (Channel channel : before.channels()) {
            boolean its = channel.node() == node && property.takes(channel);
            any |= its;
            Channel after = its ? without(channel, rate) : channel;
            removed += channel.track().times().length - after.track().times().length;
            channels.add(after);
        }
        if (!any) {
            throw new Refused("keys.still", clip, joint, property.name().toLowerCase(Locale.ROOT));
        }
        if (removed == 0) {
            throw new Refused("keys.none", clip, joint, first, last);
        }
        List<Clip> clips = new ArrayList<>(asset.clips());
        clips.set(number, Timing.spanning(before.withChannels(channels).withRate(rate), before.start(), before.end()));
        return Change.of(asset.withClips(clips)).count("keys.removed", removed);
    }

    private Channel without(Channel channel, double rate) throws Refused {
        Sampler s = channel.sampler();
        int[] kept = IntStream.range(0, s.times().length)
                .filter(k -> s.times()[k] * rate < first - NEAR || s.times()[k] * rate > last + NEAR)
                .toArray();
        if (kept.length == 0) {
            throw new Refused("keys.all", clip, joint, channel.path().name().toLowerCase(Locale.ROOT));
        }
        if (kept.length == s.times().length) {
            return channel;
        }
        float[] times = new float[kept.length];
        float[] values = new float[kept.length * s.stride()];
        for (int k = 0; k < kept.length; k++) {
            times[k] = s.times()[kept[k]];
            System.arraycopy(s.values(), kept[k] * s.stride(), values, k * s.stride(), s.stride());
        }
        return channel.withTrack(new Sampler(s.interpolation(), times, values, s.width(), s.storage()));
    }
}
