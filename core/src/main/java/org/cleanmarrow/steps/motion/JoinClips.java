package org.cleanmarrow.steps.motion;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.RestValues;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;
import org.jspecify.annotations.Nullable;

/**
 * Clips one after the other as one. What a clip does not move is at rest while it plays. Within each clip all moves as it
 * did; where the clips key a channel in different ways it is keyed on every frame.
 */
@StepInfo(name = "join-clips", says = "Makes one clip of several, one after the other.")
public record JoinClips(
        @Parameter(says = "names of the clips in their order, with commas between")
        String clips,

        @Parameter(says = "name of the new clip") String name,

        @Parameter(
                says =
                        "frames from the last of one to the first of the next, 0 to 10000; 0: the first takes the last's place",
                fallback = "1",
                unit = "frames",
                least = 0,
                most = LeadIn.MOST)
        int gap,

        @Parameter(says = "the clips themselves stay too", fallback = "false")
        boolean keep)
        implements Step {
    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (gap < 0 || gap > LeadIn.MOST) {
            throw new Refused("join.gap", gap, LeadIn.MOST);
        }
        List<Integer> numbers = Clips.listed(asset, clips);
        double rate = asset.clips().get(numbers.getFirst()).rate();
        List<Clip> placed = new ArrayList<>();
        Map<Clips.Moved, Channel> moved = new LinkedHashMap<>();
        for (int number : numbers) {
            Clip clip = asset.clips().get(number);
            for (Channel c : clip.channels()) {
                if (c.movesVertices()) {
                    throw new Refused("join.cache", clip.name());
                }
                if (c.node() >= 0) {
                    moved.putIfAbsent(Clips.Moved.by(c), c);
                }
            }
            Clip counted = clip.withRate(rate);
            placed.add(
                    placed.isEmpty()
                            ? counted
                            : Timing.shifted(
                                    Timing.fromZero(counted), placed.getLast().lastFrame() + gap));
        }
        Pose rest = new Rig(asset).rest();
        List<Channel> channels = new ArrayList<>();
        for (Channel first : moved.values()) {
            work.stopIfCancelled();
            channels.add(first.withTrack(joined(placed, first, RestValues.of(asset, rest, first))));
        }
        long lost = placed.stream()
                .flatMap(c -> c.channels().stream())
                .filter(c -> c.node() < 0)
                .count();
        Clip made = asset.clips()
                .get(numbers.getFirst())
                .withName(name)
                .withRate(rate)
                .withLoop(false);
        Change change = Clips.inPlaceOf(asset, numbers, made.withChannels(channels), keep);
        return lost == 0 ? change : change.count("channels.removed", lost);
    }

    private Sampler joined(List<Clip> clips, Channel which, float @Nullable [] rest) throws Refused {
        List<Sampler> pieces = new ArrayList<>();
        for (Clip clip : clips) {
            Sampler own = clip.channels().stream()
                    .filter(c -> c.node() == which.node() && c.path() == which.path())
                    .map(Channel::sampler)
                    .findFirst()
                    .orElse(null);
            float[] ends = {(float) clip.start(), (float) clip.end()};
            if (own != null && own.width() == which.sampler().width()) {
                pieces.add(Timing.withKeys(own, which.path() == Channel.Path.ROTATION, ends));
            } else if (rest != null) {
                pieces.add(still(rest, ends));
            }
        }
        boolean alike = pieces.stream().map(Sampler::interpolation).distinct().count() == 1;
        List<Sampler> same = new ArrayList<>();
        for (int i = 0; i < pieces.size(); i++) {
            same.add(
                    alike
                            ? pieces.get(i)
                            : onFrames(
                                    which.withTrack(pieces.get(i)),
                                    clips.getFirst().rate()));
        }
        return chained(same);
    }

    private static Sampler still(float[] value, float[] ends) {
        float[] values = Arrays.copyOf(value, value.length * 2);
        System.arraycopy(value, 0, values, value.length, value.length);
        return new Sampler(Sampler.Interpolation.LINEAR, ends, values, value.length, Storage.FLOAT);
    }

    /** Linear keys on every frame; a step becomes a way of no length, right before its key. */
    private static Sampler onFrames(Channel channel, double rate) throws Refused {
        Sampler s = channel.sampler();
        if (s.interpolation() == Sampler.Interpolation.LINEAR) {
            return s;
        }
        if (s.interpolation() == Sampler.Interpolation.CUBICSPLINE) {
            Clip alone = new Clip("", List.of(channel), rate, false, true, channel.carried());
            return Timing.keyed(channel, Timing.frames(alone, rate)).sampler();
        }
        int w = s.width();
        int keys = s.times().length;
        float[] times = new float[2 * keys - 1];
        float[] values = new float[times.length * w];
        for (int k = 0; k < keys; k++) {
            times[2 * k] = s.times()[k];
            System.arraycopy(s.values(), k * w, values, 2 * k * w, w);
            if (k + 1 < keys) {
                times[2 * k + 1] = Math.nextDown(s.times()[k + 1]);
                System.arraycopy(s.values(), k * w, values, (2 * k + 1) * w, w);
            }
        }
        return new Sampler(Sampler.Interpolation.LINEAR, times, values, w, Storage.FLOAT);
    }

    /** One behind the other; where two meet in a moment, the later one's key holds. */
    private static Sampler chained(List<Sampler> pieces) {
        Sampler first = pieces.getFirst();
        int stride = first.stride();
        int most = pieces.stream().mapToInt(s -> s.times().length).sum();
        float[] times = new float[most];
        float[] values = new float[most * stride];
        int keys = 0;
        boolean same = true;
        for (Sampler s : pieces) {
            same &= s.storage() == first.storage();
            while (keys > 0 && times[keys - 1] >= s.times()[0]) {
                keys--;
            }
            System.arraycopy(s.times(), 0, times, keys, s.times().length);
            System.arraycopy(s.values(), 0, values, keys * stride, s.values().length);
            keys += s.times().length;
        }
        return new Sampler(
                first.interpolation(),
                Arrays.copyOf(times, keys),
                Arrays.copyOf(values, keys * stride),
                first.width(),
                same ? first.storage() : Storage.FLOAT);
    }
}
