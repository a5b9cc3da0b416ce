package org.cleanmarrow.steps.motion;

import java.util.Arrays;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import org.cleanmarrow.edit.Clips;
import org.cleanmarrow.edit.Timing;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.measure.Levers;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.KeyReduction;
import org.cleanmarrow.text.Length;
import org.cleanmarrow.work.Change;
import org.cleanmarrow.work.Parameter;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Step;
import org.cleanmarrow.work.StepInfo;
import org.cleanmarrow.work.Work;

/**
 * Takes keys out of clips while the skin stays within a bound of where it was.
 *
 * <p>Every channel gets a tolerance by its lever: how far the farthest vertex that hangs on it moves for one unit of it. What
 * comes of it is measured on the skin, and all tolerances are widened or narrowed together until the error lies just under the
 * bound; where none does, the clip stays. It is looked at on all keys and frames and between them: once where all lines are
 * straight, because they part most at keys, and seven times where any is curved.
 *
 * <p>Cost: at most eight reductions and looks at a few vertices of every joint on every frame, on all cores; of more than
 * 24,000 moments so many, spread evenly, are looked at.
 */
@StepInfo(name = "reduce-keys", says = "Takes keys out of clips while the skin stays within a bound of where it was.")
public record ReduceKeys(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(says = "how far any vertex may be off at any time, in millimetres, 0.001 to 1000", fallback = "0.5")
        double millimetres)
        implements Step {
    private static final int TIMES_RATE = 8;
    private static final int MOST_MOMENTS = 24_000;
    private static final int SEARCHES = 8;
    /** Of the bound: just under it is near enough, and what lies between the moments has room. */
    private static final double FULL = 0.95;

    private static final double ENOUGH = 0.85;
    /** Moments looked at with all vertices: the worst, and as many spread evenly. */
    private static final int WHOLE = 16;

    @Override
    public Change apply(Asset asset, Work work) throws Refused {
        if (!(millimetres >= 0.001 && millimetres <= 1000)) {
            throw new Refused("reduce.bound", millimetres);
        }
        Levers levers = new Levers(asset);
        ClipDifference difference = new ClipDifference(asset);
        double[] worst = {0};
        long[] keys = {0, 0};
        Change change = Clips.each(asset, clips, work, clip -> {
            Reduced found = reduced(clip, levers, difference, work);
            keys[0] += clip.keyCount();
            keys[1] += found.clip.keyCount();
            worst[0] = Math.max(worst[0], found.metres);
            return found.clip;
        });
        return change.count("keys.removed", keys[0] - keys[1])
                .note("reduce.keys", keys[0], keys[1], new Length(worst[0]));
    }

    private record Reduced(Clip clip, double metres) {}

    private Reduced reduced(Clip clip, Levers levers, ClipDifference difference, Work work) {
        double bound = millimetres / 1000;
        boolean curved = clip.channels().stream()
                .anyMatch(
                        c -> c.track() instanceof Sampler s && s.interpolation() == Sampler.Interpolation.CUBICSPLINE);
        double[] few = moments(clip, curved ? 2 : 1);
        double[] all = moments(clip, curved ? TIMES_RATE : 2);
        ClipDifference.Source frames = difference.source(clip, few, true, work);
        ClipDifference.Source between = difference.source(clip, all, true, work);
        Reduced best = new Reduced(clip, 0);
        double share = 1;
        for (int i = 0; i < SEARCHES; i++) {
            work.stopIfCancelled();
            Clip fewer = reduced(clip, levers, bound * share);
            double error = max(frames.from(fewer, work));
            if (error <= bound * FULL && fewer.keyCount() < best.clip.keyCount()) {
                // Looked at wholly only where it may be what is wanted.
                error = error(clip, fewer, all, between, difference, work);
                best = error <= bound * FULL ? new Reduced(fewer, error) : best;
            }
            boolean fits = error <= bound * FULL;
            if (fits && (error >= bound * ENOUGH || i > SEARCHES / 2)) {
                break;
            }
            double wanted = bound * (FULL + ENOUGH) / 2;
            share *= error > 0 ? Math.clamp(wanted / error, 0.1, 2) : 2;
        }
        return best;
    }

    /** All keys, and so many times a frame. */
    private static double[] moments(Clip clip, int times) {
        double[] keys = clip.keyTimes().stream().mapToDouble(Float::doubleValue).toArray();
        int even = (int) Math.clamp(Math.ceil(clip.seconds() * clip.rate() * times), 1, MOST_MOMENTS);
        DoubleStream all = IntStream.rangeClosed(0, even).mapToDouble(i -> clip.start() + clip.seconds() * i / even);
        return keys.length > MOST_MOMENTS
                ? all.toArray()
                : DoubleStream.concat(all, Arrays.stream(keys))
                        .sorted()
                        .distinct()
                        .toArray();
    }

    private static double max(double[] of) {
        return Arrays.stream(of).max().orElse(0);
    }

    private static double error(
            Clip clip,
            Clip fewer,
            double[] moments,
            ClipDifference.Source between,
            ClipDifference difference,
            Work work) {
        double[] few = between.from(fewer, work);
        int even = Math.max(1, moments.length / WHOLE);
        double[] chosen = IntStream.concat(
                        IntStream.range(0, few.length)
                                .boxed()
                                .sorted(Comparator.comparingDouble((Integer i) -> -few[i]))
                                .limit(WHOLE)
                                .mapToInt(Integer::intValue),
                        IntStream.range(0, few.length).filter(i -> i % even == 0))
                .distinct()
                .mapToDouble(i -> moments[i])
                .toArray();
        return Math.max(
                max(few), max(difference.source(clip, chosen, false, work).from(fewer, work)));
    }

    /** @param metres for every channel by itself */
    private static Clip reduced(Clip clip, Levers levers, double metres) {
        Map<Channel, Channel> done = new IdentityHashMap<>();
        List<Channel> moving = clip.channels().stream()
                .filter(c -> Double.isFinite(levers.of(c)))
                .toList();
        List<Channel> made = moving.parallelStream()
                .map(c -> c.withTrack(KeyReduction.of(
                        c.sampler(), c.path() == Channel.Path.ROTATION, metres / Math.max(1e-9, levers.of(c)))))
                .map(ReduceKeys::still)
                .toList();
        for (int i = 0; i < made.size(); i++) {
            done.put(moving.get(i), made.get(i));
        }
        List<Channel> channels =
                clip.channels().stream().map(c -> done.getOrDefault(c, c)).toList();
        return Timing.spanning(clip.withChannels(channels).withRate(clip.rate()), clip.start(), clip.end());
    }

    /** What does not move needs one key. */
    private static Channel still(Channel channel) {
        Sampler s = channel.sampler();
        int w = s.width();
        boolean same = s.times().length == 2 && Arrays.equals(s.values(), 0, w, s.values(), w, 2 * w);
        return !same
                ? channel
                : channel.withTrack(new Sampler(
                        s.interpolation(), Arrays.copyOf(s.times(), 1), Arrays.copyOf(s.values(), w), w, s.storage()));
    }
}
