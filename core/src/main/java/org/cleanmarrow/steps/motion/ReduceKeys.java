package org.cleanmarrow.steps.motion;

import java.util.Arrays;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
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
 * <p>Every channel gets a tolerance by its lever, how far the farthest vertex that hangs on it moves for one unit of it, and by how
 * many keys it needs: keys fall as the root of the tolerance, so what has many gains more by being off more. What comes of it is measured on
 * the skin, and the tolerances are widened and narrowed, each stretch of time by itself, until the error lies just under the bound
 * everywhere; where it nowhere does, the clip stays. It is looked at on all keys and frames and between them: once where all lines are
 * straight, because they part most at keys or close to them, and seven times where any is curved, as it was or as it becomes.
 *
 * <p>With cubic splines each channel gets those keys, straight or spline, that take the fewer numbers; a key of a spline takes three
 * times as many.
 *
 * <p>Cost: keys are put in order once. Tolerances are sought on some of the moments; what comes of them is looked at on all, at a few
 * vertices of every joint, and where it is off too far the search goes on about there. On all cores; of more than 24,000 moments so many, spread evenly, are looked at.
 */
@StepInfo(name = "reduce-keys", says = "Takes keys out of clips while the skin stays within a bound of where it was.")
public record ReduceKeys(
        @Parameter(says = "names of the clips, with * for any run of characters", fallback = "\"*\"")
        String clips,

        @Parameter(
                says = "how far any vertex may be off at any time",
                fallback = "0.5",
                unit = "mm",
                least = 0.001,
                most = 1000)
        double millimetres,

        @Parameter(
                says = "linear: straight between keys; cubic: cubic splines where they take fewer numbers",
                fallback = "\"linear\"")
        Between between)
        implements Step {
    /** How it goes from key to key. */
    public enum Between {
        LINEAR,
        CUBIC
    }

    private static final int TIMES_RATE = 8;
    private static final int MOST_MOMENTS = 24_000;
    /** A share of what lies between two moments within which they are one: keys are rounded to float32. */
    private static final double SAME = 1e-3;

    /** Of the bound: just under it is near enough, and what is not looked at while seeking has room. */
    private static final double FULL = 0.95;
    /** Of the bound, what it may come to where all vertices are looked at. */
    private static final double ALL = 0.985;

    private static final double ENOUGH = 0.7;
    /** Powers of a channel's lever and of its keys that its tolerance falls and rises with besides: found by trying. */
    private static final double BY_LEVER = 0.2;

    private static final double BY_KEYS = 0.3;
    /** Of the bound, at which those keys are counted: some way to what a channel among others is left. */
    private static final double PROBED = 0.5;
    /** Where the tolerances are to bring it. */
    private static final double AIM = 0.9;
    /** Moments looked at with all vertices: the worst, and as many spread evenly. */
    private static final int WHOLE = 4;
    /** The first tries are looked at on one in so many moments; where keys are a frame apart, on some of the keys. */
    private static final int FIRST = 6;
    /** Narrowing begins on one in so many of the moments: on about one a frame of straight ways, which part most there, on two of others. */
    private static final int MOST_STRAIGHT = 2;

    private static final int MOST_CURVED = 4;
    /** How much wider than what does at all times tolerances over time begin: most times have more room than the worst. */
    private static final double WIDER = 3;
    /** Rounds in which tolerances become wider and narrower, and then those in which they only become narrower before all is looked at. */
    private static final int BOTH = 4;

    private static final int NARROWER = 14;
    /** How many rounds of narrowing further on it is each time that all vertices are off too far. */
    private static final int CALLED_AGAIN = 3;
    /** Tries that are looked at wholly. */
    private static final int LOOKS = 6;

    /** To straight ways. */
    public ReduceKeys(String clips, double millimetres) {
        this(clips, millimetres, Between.LINEAR);
    }

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
        boolean curved = between == Between.CUBIC
                || clip.channels().stream()
                        .anyMatch(c -> c.track() instanceof Sampler s
                                && s.interpolation() == Sampler.Interpolation.CUBICSPLINE);
        Held held = new Held(clip, moments(clip, curved ? TIMES_RATE : 2), difference, work);
        Channels channels = new Channels(clip, levers, between, bound);
        Held some = held.every(FIRST);
        double share = share(channels, some, bound, work);
        TimeShares shares = new TimeShares(clip, bound * share * WIDER, held.moments.length);
        for (int round = 0; round < BOTH; round++) {
            shares.adapt(some.moments, some.from(channels.reduced(shares), work), bound * AIM, round);
        }
        Held most = held.every(curved ? MOST_CURVED : MOST_STRAIGHT);
        narrow(shares, channels, most, most.from(channels.reduced(shares), work), bound, work);
        for (int i = 0; i < LOOKS; i++) {
            Clip fewer = channels.reduced(shares);
            double[] few = held.from(fewer, work);
            if (max(few) > bound * ALL) {
                narrow(shares, channels, held, few, bound, work);
                continue;
            }
            lookWholly(clip, fewer, held.moments, few, difference, work);
            double off = max(few);
            if (off <= bound * ALL) {
                return size(fewer) < size(clip) ? new Reduced(fewer, off) : new Reduced(clip, 0);
            }
            // Vertices beside the few: less there, and by more each time that did not do.
            shares.narrow(held.moments, few, bound * FULL, bound * AIM, i * CALLED_AGAIN);
        }
        return new Reduced(clip, 0);
    }

    /**
     * Narrows the tolerances where it is off too far, looking only at what lies about it, until it no longer is.
     *
     * @param off at each moment; follows
     */
    private static void narrow(TimeShares shares, Channels channels, Held held, double[] off, double bound, Work work) {
        for (int round = 0; round < NARROWER && max(off) > bound * FULL; round++) {
            int[] about = shares.narrow(held.moments, off, bound * FULL, bound * AIM, round);
            double[] now = held.at(about).from(channels.reduced(shares), work);
            for (int i = 0; i < about.length; i++) {
                off[about[i]] = now[i];
            }
        }
    }

    /** A clip at some moments, to hold those with fewer keys against at the few vertices that stand out. */
    private record Held(double[] moments, ClipDifference.Source source) {
        Held(Clip clip, double[] moments, ClipDifference difference, Work work) {
            this(moments, difference.source(clip, moments, true, work));
        }

        Held at(int... which) {
            return new Held(IntStream.of(which).mapToDouble(i -> moments[i]).toArray(), source.at(which));
        }

        /** One in so many of the moments. */
        Held every(int many) {
            return at(IntStream.range(0, moments.length)
                    .filter(i -> i % many == 0)
                    .toArray());
        }

        double[] from(Clip fewer, Work work) {
            return source.from(fewer, work);
        }
    }

    /** Looks at all vertices where the few are off most and at some other moments, and puts in how far they are off there. */
    private static void lookWholly(
            Clip clip, Clip fewer, double[] moments, double[] few, ClipDifference difference, Work work) {
        int[] which = standingOut(few, WHOLE);
        double[] when = IntStream.of(which).mapToDouble(i -> moments[i]).toArray();
        double[] all = difference.source(clip, when, false, work).from(fewer, work);
        for (int i = 0; i < which.length; i++) {
            few[which[i]] = Math.max(few[which[i]], all[i]);
        }
    }

    /**
     * The share of the bound that every channel may be off by itself so that all together nearly fill it, as far as some moments and two
     * tries tell.
     */
    private static double share(Channels channels, Held some, double bound, Work work) {
        double whole = off(channels, some, bound, work);
        if (whole <= bound * FULL && whole >= bound * ENOUGH) {
            return 1;
        }
        double aim = bound * (FULL + ENOUGH) / 2;
        double share = whole > 0 ? Math.clamp(aim / whole, 0.05, 4) : 4;
        if (off(channels, some, bound * share, work) <= bound * FULL) {
            return share;
        }
        // How far it is off leaps where a key comes or goes.
        return whole <= bound * FULL ? 1 : share / 20;
    }

    private static double off(Channels channels, Held some, double metres, Work work) {
        work.stopIfCancelled();
        return max(some.from(channels.reduced(TimeShares.always(metres)), work));
    }

    /** Numbers of the moments where it is off most, and of as many spread evenly. */
    private static int[] standingOut(double[] off, int many) {
        int even = Math.max(1, off.length / many);
        return IntStream.concat(
                        IntStream.range(0, off.length)
                                .boxed()
                                .sorted(Comparator.comparingDouble((Integer i) -> -off[i]))
                                .limit(many)
                                .mapToInt(Integer::intValue),
                        IntStream.range(0, off.length).filter(i -> i % even == 0))
                .distinct()
                .toArray();
    }

    /** All keys, and so many times a frame. */
    private static double[] moments(Clip clip, int times) {
        double[] keys = clip.keyTimes().stream().mapToDouble(Float::doubleValue).toArray();
        int even = (int) Math.clamp(Math.ceil(clip.seconds() * clip.rate() * times), 1, MOST_MOMENTS);
        double start = clip.start();
        double seconds = clip.seconds();
        DoubleStream all = IntStream.rangeClosed(0, even).mapToDouble(i -> start + seconds * i / even);
        if (keys.length > MOST_MOMENTS) {
            return all.toArray();
        }
        double near = seconds / even * SAME;
        TreeSet<Double> out = new TreeSet<>();
        Arrays.stream(keys).forEach(out::add);
        all.filter(t -> out.subSet(t - near, t + near).isEmpty()).forEach(out::add);
        return out.stream().mapToDouble(Double::doubleValue).toArray();
    }

    /** What is to become less: keys, or with splines what they take to store, times left out, which are shared. */
    private long size(Clip clip) {
        if (between == Between.LINEAR) {
            return clip.keyCount();
        }
        return clip.channels().stream()
                .filter(c -> c.track() instanceof Sampler)
                .mapToLong(c -> c.sampler().values().length)
                .sum();
    }

    private static double max(double[] of) {
        return Arrays.stream(of).max().orElse(0);
    }

    /** The channels of a clip with their keys in order of how much they are needed. */
    private static final class Channels {
        private final Clip clip;
        private final List<Channel> moving;
        private final List<KeyReduction> reductions;
        /** Empty where none is asked for. */
        private final List<KeyReduction> splines;

        /** Metres for a unit of each, and what sets it apart from others. */
        private final double[] weights;

        Channels(Clip clip, Levers levers, Between between, double bound) {
            this.clip = clip;
            moving = clip.channels().stream()
                    .filter(c -> Double.isFinite(levers.of(c)))
                    .toList();
            reductions = moving.parallelStream().map(c -> reduction(c, false)).toList();
            splines = between == Between.LINEAR
                    ? List.of()
                    : moving.parallelStream().map(c -> reduction(c, true)).toList();
            double[] lever = moving.stream()
                    .mapToDouble(c -> Math.max(1e-9, levers.of(c)))
                    .toArray();
            double[] keys = IntStream.range(0, lever.length)
                    .parallel()
                    .mapToDouble(i -> Math.max(
                            1, reductions.get(i).at(PROBED * bound / lever[i]).times().length - 1))
                    .toArray();
            double far = mean(lever);
            double many = mean(keys);
            weights = IntStream.range(0, lever.length)
                    .mapToDouble(i -> lever[i] * Math.pow(lever[i] / far, BY_LEVER) / Math.pow(keys[i] / many, BY_KEYS))
                    .toArray();
        }

        private static double mean(double[] of) {
            return Math.exp(Arrays.stream(of).map(Math::log).average().orElse(0));
        }

        private static KeyReduction reduction(Channel c, boolean spline) {
            return new KeyReduction(c.sampler(), c.path() == Channel.Path.ROTATION, spline);
        }

        private Sampler reduced(int channel, KeyReduction.Tolerance tolerance) {
            Sampler straight = reductions.get(channel).nearest(tolerance);
            Sampler spline = splines.isEmpty() ? straight : splines.get(channel).nearest(tolerance);
            return spline.values().length < straight.values().length ? spline : straight;
        }

        /** @param metres for every channel by itself */
        Clip reduced(TimeShares metres) {
            List<Channel> made = IntStream.range(0, moving.size())
                    .parallel()
                    .mapToObj(i -> still(moving.get(i).withTrack(reduced(i, metres.over(weights[i])))))
                    .toList();
            Map<Channel, Channel> done = new IdentityHashMap<>();
            for (int i = 0; i < made.size(); i++) {
                done.put(moving.get(i), made.get(i));
            }
            List<Channel> channels =
                    clip.channels().stream().map(c -> done.getOrDefault(c, c)).toList();
            return Timing.spanning(clip.withChannels(channels).withRate(clip.rate()), clip.start(), clip.end());
        }
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
