package org.cleanmarrow.edit;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.function.DoubleUnaryOperator;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.model.Track;
import org.cleanmarrow.model.VertexTrack;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.work.Refused;
import org.jspecify.annotations.Nullable;

/**
 * When a clip's keys are: moved, cut and made anew. Frames are counted at the clip's rate from its time 0, ranges count both
 * ends. Tracks and key times that channels share stay shared.
 */
public final class Timing {
    /** Times in float32 that are this near in seconds are one. */
    private static final double SAME = 1e-5;

    /** In the keys of one clip: 20 minutes at 120 frames a second of 100 joints that move and turn. */
    private static final double MOST_NUMBERS = 100_000_000;

    private Timing() {}

    /** Seconds of a frame; the first and the last frame are where the clip's own keys begin and end. */
    public static double seconds(Clip clip, int frame) {
        if (frame == clip.firstFrame()) {
            return clip.start();
        }
        return frame == clip.lastFrame() ? clip.end() : (float) (frame / clip.rate());
    }

    /** A time so many frames later; what lies on a frame lies on one afterwards, to the last bit. */
    public static float later(float seconds, int frames, double rate) {
        return isFrame(seconds, rate)
                ? (float) ((Math.round(seconds * rate) + frames) / rate)
                : (float) (seconds + frames / rate);
    }

    /** The time of the frame that a time is but for rounding; otherwise the time. */
    public static float snapped(double seconds, double rate) {
        return (float) (isFrame(seconds, rate) ? Math.round(seconds * rate) / rate : seconds);
    }

    private static boolean isFrame(double seconds, double rate) {
        return Math.abs(Math.round(seconds * rate) / rate - seconds) <= 2 * Math.ulp((float) seconds);
    }

    /** All keys so many frames later. The rate they were counted at is the clip's from then on. */
    public static Clip shifted(Clip clip, int frames) {
        double rate = clip.rate();
        Map<float[], float[]> done = new IdentityHashMap<>();
        return mapped(clip, c -> timed(c.track(), done.computeIfAbsent(c.track().times(), t -> later(t, frames, rate))))
                .withRate(rate);
    }

    /** The same from time 0 on. */
    public static Clip fromZero(Clip clip) {
        Clip moved = shifted(clip, -clip.firstFrame());
        if (moved.start() == 0) {
            return moved;
        }
        // It began between two frames.
        Map<float[], float[]> done = new IdentityHashMap<>();
        float start = (float) clip.start();
        return mapped(
                        clip,
                        c -> timed(c.track(), done.computeIfAbsent(c.track().times(), t -> rising(t, x -> x - start))))
                .withRate(clip.rate());
    }

    /** All keys so many times as far from the clip's start; the slopes of cubic splines with them. */
    public static Clip stretched(Clip clip, double factor) {
        double start = clip.start();
        Map<float[], float[]> done = new IdentityHashMap<>();
        return mapped(clip, c -> {
                    float[] times =
                            done.computeIfAbsent(c.track().times(), t -> rising(t, x -> start + (x - start) * factor));
                    Track track = timed(c.track(), times);
                    boolean cubic =
                            track instanceof Sampler s && s.interpolation() == Sampler.Interpolation.CUBICSPLINE;
                    return cubic ? steeper((Sampler) track, 1 / factor) : track;
                })
                .withRate(clip.rate());
    }

    /** The same with all tangents of a cubic spline so many times as steep. */
    public static Sampler steeper(Sampler s, double factor) {
        float[] values = s.values().clone();
        for (int i = 0; i < values.length; i++) {
            boolean tangent = i / s.width() % 3 != 1;
            values[i] = tangent ? (float) (values[i] * factor) : values[i];
        }
        return new Sampler(s.interpolation(), s.times(), values, s.width(), Storage.FLOAT);
    }

    private static float[] later(float[] times, int frames, double rate) {
        return rising(times, t -> later((float) t, frames, rate));
    }

    private static float[] rising(float[] times, DoubleUnaryOperator change) {
        float[] out = new float[times.length];
        for (int i = out.length - 1; i >= 0; i--) {
            out[i] = (float) change.applyAsDouble(times[i]);
            if (i + 1 < out.length && out[i] >= out[i + 1]) {
                // Two keys as near as numbers go are a jump, and stay two.
                out[i] = Math.nextDown(out[i + 1]);
            }
        }
        // Nothing is before time 0, by rounding either.
        for (int i = 0; i < out.length && out[i] < (i == 0 ? 0 : Math.nextUp(out[i - 1])); i++) {
            out[i] = i == 0 ? 0 : Math.nextUp(out[i - 1]);
        }
        return out;
    }

    private static Track timed(Track track, float[] times) {
        return switch (track) {
            case Sampler s -> new Sampler(s.interpolation(), times, s.values(), s.width(), s.storage());
            case VertexTrack v -> new VertexTrack(times, v.frames(), v.change(), v.order());
        };
    }

    /** Another track for each; those that share one share its successor. */
    private static Clip mapped(Clip clip, Change change) {
        Map<Track, Track> done = new IdentityHashMap<>();
        return clip.withChannels(clip.channels().stream()
                .map(c -> c.withTrack(done.computeIfAbsent(c.track(), t -> change.of(c))))
                .toList());
    }

    /** What becomes of a channel's track; the same for all that share it. */
    private interface Change {
        Track of(Channel channel);
    }

    /**
     * What is between two times, both with keys of their own; it moves as it did, cubic splines and turns too. Times stay.
     *
     * @throws Refused where a vertex cache has no frame at either
     */
    public static Clip cut(Clip clip, double from, double to) throws Refused {
        for (Channel channel : clip.channels()) {
            if (channel.track() instanceof VertexTrack cache) {
                hasFrame(clip, cache, from);
                hasFrame(clip, cache, to);
            }
        }
        Clip cut = mapped(
                        clip,
                        c -> c.track() instanceof VertexTrack v
                                ? cut(v, (float) from, (float) to)
                                : cut(c.sampler(), c.path() == Channel.Path.ROTATION, (float) from, (float) to))
                .withRate(clip.rate());
        return spanning(cut, from, to);
    }

    private static void hasFrame(Clip clip, VertexTrack cache, double seconds) throws Refused {
        float[] times = cache.times();
        int near = Math.min(insertion(times, (float) (seconds - SAME)), times.length - 1);
        boolean inside = seconds > times[0] && seconds < times[times.length - 1];
        if (inside && Math.abs(times[near] - seconds) > SAME) {
            throw new Refused("cut.cache", clip.name(), seconds);
        }
    }

    private static VertexTrack cut(VertexTrack cache, float from, float to) {
        float[] times = cache.times();
        int first = insertion(times, (float) (from - SAME));
        int end = insertion(times, (float) (to + SAME));
        if (end <= first) {
            // All before or all after: what holds there.
            first = Math.clamp(first, 0, times.length - 1);
            return new VertexTrack(new float[] {from}, cache.frames().slice(first, 1), cache.change(), cache.order());
        }
        return new VertexTrack(
                Arrays.copyOfRange(times, first, end),
                cache.frames().slice(first, end - first),
                cache.change(),
                cache.order());
    }

    /** Number of the first time at or after another. */
    private static int insertion(float[] times, float at) {
        int found = Arrays.binarySearch(times, at);
        return found >= 0 ? found : -found - 1;
    }

    private static Sampler cut(Sampler s, boolean rotation, float from, float to) {
        float[] times = s.times();
        List<Float> kept = new ArrayList<>();
        if (from > times[0]) {
            kept.add(from);
        }
        for (float t : times) {
            if (t >= from && t <= to && (kept.isEmpty() || t > kept.getLast())) {
                kept.add(t);
            }
        }
        if (kept.isEmpty() || to > kept.getLast() && to < times[times.length - 1]) {
            kept.add(kept.isEmpty() ? from : to);
        }
        return at(s, rotation, kept);
    }

    /** The same way with other keys; between keys it was it stays to the letter where all of its own lie among these. */
    private static Sampler at(Sampler s, boolean rotation, List<Float> keys) {
        int stride = s.stride();
        float[] times = new float[keys.size()];
        float[] values = new float[keys.size() * stride];
        boolean whole = true;
        for (int k = 0; k < times.length; k++) {
            times[k] = keys.get(k);
            int own = Arrays.binarySearch(s.times(), times[k]);
            if (own >= 0) {
                System.arraycopy(s.values(), own * stride, values, k * stride, stride);
                continue;
            }
            whole = false;
            double[] value = new double[s.width()];
            boolean cubic = s.interpolation() == Sampler.Interpolation.CUBICSPLINE;
            if (cubic) {
                double[] slope = new double[s.width()];
                Keys.curve(s, times[k], value, slope);
                put(slope, values, k * stride);
                put(slope, values, k * stride + 2 * s.width());
            } else if (rotation) {
                Keys.sampleRotation(s, times[k], value);
            } else {
                Keys.sample(s, times[k], value);
            }
            put(value, values, k * stride + (cubic ? s.width() : 0));
        }
        if (s.interpolation() == Sampler.Interpolation.CUBICSPLINE) {
            hold(s, times, values);
        }
        return new Sampler(s.interpolation(), times, values, s.width(), whole ? s.storage() : Storage.FLOAT);
    }

    /** Tangents of a cubic spline's first and last key, of no use until there is a key before or after, lie still then. */
    private static void hold(Sampler s, float[] times, float[] values) {
        int w = s.width();
        int first = Arrays.binarySearch(times, s.times()[0]);
        if (first > 0) {
            Arrays.fill(values, first * 3 * w, first * 3 * w + w, 0);
        }
        int last = Arrays.binarySearch(times, s.times()[s.times().length - 1]);
        if (last >= 0 && last < times.length - 1) {
            Arrays.fill(values, last * 3 * w + 2 * w, (last + 1) * 3 * w, 0);
        }
    }

    private static void put(double[] from, float[] to, int at) {
        for (int i = 0; i < from.length; i++) {
            to[at + i] = (float) from[i];
        }
    }

    /** The same with keys at a first and a last time, so that it begins and ends there. */
    public static Clip spanning(Clip clip, double from, double to) {
        return held(held(clip, (float) from), (float) to);
    }

    /** The same with a key at a time where none of its channels has one, so that the clip begins or ends there. */
    private static Clip held(Clip clip, float seconds) {
        boolean there = clip.channels().isEmpty()
                || clip.channels().stream()
                        .anyMatch(c -> Arrays.binarySearch(c.track().times(), seconds) >= 0);
        for (int c = 0; c < clip.channels().size() && !there; c++) {
            Channel channel = clip.channels().get(c);
            if (channel.track() instanceof Sampler s) {
                List<Channel> channels = new ArrayList<>(clip.channels());
                channels.set(c, channel.withTrack(withKeys(s, channel.path() == Channel.Path.ROTATION, seconds)));
                return clip.withChannels(channels);
            }
        }
        return clip;
    }

    /** The same way with more keys; times of its own are none. */
    public static Sampler withKeys(Sampler s, boolean rotation, float... seconds) {
        TreeSet<Float> keys = new TreeSet<>();
        for (float t : s.times()) {
            keys.add(t);
        }
        int own = keys.size();
        for (float t : seconds) {
            keys.add(t);
        }
        return keys.size() == own ? s : at(s, rotation, List.copyOf(keys));
    }

    /**
     * The same with a key of another value before its first.
     *
     * @param value  null: as it is at its first key
     * @param first  where that key is put
     * @param begins where the clip's own motion begins; what the channel is there holds until its first key
     */
    public static Channel led(Channel channel, float @Nullable [] value, float first, float begins) {
        if (!(channel.track() instanceof Sampler track) || value == null || first >= begins) {
            return channel;
        }
        Sampler s =
                track.times()[0] > begins ? withKeys(track, channel.path() == Channel.Path.ROTATION, begins) : track;
        int stride = s.stride();
        float[] times = new float[s.times().length + 1];
        float[] values = new float[times.length * stride];
        times[0] = first;
        System.arraycopy(s.times(), 0, times, 1, s.times().length);
        System.arraycopy(s.values(), 0, values, stride, s.values().length);
        int middle = stride == s.width() ? 0 : s.width();
        System.arraycopy(value, 0, values, middle, s.width());
        return channel.withTrack(new Sampler(s.interpolation(), times, values, s.width(), s.storage()));
    }

    /**
     * The first and the last time of a clip, and all frames of a rate between them.
     *
     * @throws Refused where keys on all of them would take more memory than any clip of use does
     */
    public static float[] frames(Clip clip, double rate) throws Refused {
        long wide = clip.channels().stream()
                .filter(c -> c.track() instanceof Sampler)
                .mapToLong(c -> c.track().width())
                .sum();
        double frames = clip.seconds() * rate;
        if (!(frames * Math.max(1, wide) <= MOST_NUMBERS)) {
            throw new Refused("clip.long", clip.name(), clip.seconds(), rate);
        }
        return frames(clip.start(), clip.end(), rate);
    }

    /** A first and a last time, and all frames of a rate between them. */
    public static float[] frames(double from, double to, double rate) {
        long first = (long) Math.floor((from + SAME) * rate) + 1;
        long last = (long) Math.ceil((to - SAME) * rate) - 1;
        float[] out = new float[(int) Math.max(0, last - first + 1) + (to > from ? 2 : 1)];
        out[0] = (float) from;
        for (long frame = first; frame <= last; frame++) {
            out[(int) (frame - first) + 1] = (float) (frame / rate);
        }
        out[out.length - 1] = (float) to;
        return out;
    }

    /**
     * Keys at other times: linear ones, steps where they were steps. Rotations go the shorter way from key to key. A vertex
     * cache stays as it is.
     */
    public static Channel keyed(Channel channel, float[] times) {
        if (!(channel.track() instanceof Sampler s)) {
            return channel;
        }
        boolean rotation = channel.path() == Channel.Path.ROTATION;
        boolean step = s.interpolation() == Sampler.Interpolation.STEP;
        float[] values = new float[times.length * s.width()];
        double[] value = new double[s.width()];
        for (int k = 0; k < times.length; k++) {
            if (rotation) {
                Keys.sampleRotation(s, times[k], value);
            } else {
                Keys.sample(s, times[k], value);
            }
            put(value, values, k * s.width());
        }
        if (rotation && !step) {
            Baker.alongTheShorterWay(values);
        }
        Sampler.Interpolation kind = step ? s.interpolation() : Sampler.Interpolation.LINEAR;
        return channel.withTrack(new Sampler(kind, times, values, s.width(), Storage.FLOAT));
    }
}
