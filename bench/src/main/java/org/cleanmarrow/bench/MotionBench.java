package org.cleanmarrow.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.function.DoubleFunction;
import java.util.stream.DoubleStream;
import java.util.stream.IntStream;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.KeyReduction;
import org.cleanmarrow.pose.Keys;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.TrimClip;
import org.cleanmarrow.work.Work;

/** Baking and reducing clips, and how many keys a plain reduction by channel needs for the same error on the skin. */
final class MotionBench {
    private static final int TAKE = 144_000;
    private static final double[] BOUNDS = {0.1, 0.5, 1, 2};

    private MotionBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Clips: 10 of 300 frames, 200 joints, 100,000 vertices");
        report.within("bake", Timing.of(1, 5, () -> new Bake("*").apply(big, Work.QUIET)), 1000);
        report.within(
                "reduce keys to 1 mm", Timing.of(1, 3, () -> new ReduceKeys("*", 1).apply(big, Work.QUIET)), 3000);
        take(report);
        System.out.println(
                "keys: all, ours, plain by channel at the same error, ours of plain; as splines, of plain, their numbers of"
                        + " plain's; three.js of values rounded to the same error, ours of those");
        for (Asset asset : List.of(FerryPilot.asset(), MarshHeron.asset(), openTake())) {
            for (Clip clip : asset.clips()) {
                for (double bound : BOUNDS) {
                    compare(asset, clip, bound);
                }
            }
        }
    }

    /** 20 minutes at 120 frames a second of everything that turns in one of the pilot's clips, with a little noise. */
    static Asset take() {
        Asset pilot = FerryPilot.asset();
        Clip punt = pilot.clips().get(pilot.findClip("punt"));
        float[] times = new float[TAKE];
        for (int k = 0; k < TAKE; k++) {
            times[k] = k / 120f;
        }
        Random random = new Random(1);
        List<Channel> channels = new ArrayList<>();
        for (Channel channel : punt.channels()) {
            if (channel.path() == Channel.Path.ROTATION) {
                float[] values = new float[TAKE * 4];
                double[] q = new double[4];
                for (int k = 0; k < TAKE; k++) {
                    Keys.sampleRotation(channel.sampler(), punt.start() + times[k] * 0.7 % punt.seconds(), q);
                    double length = 0;
                    for (int i = 0; i < 4; i++) {
                        q[i] += random.nextGaussian() * 1e-4;
                        length += q[i] * q[i];
                    }
                    for (int i = 0; i < 4; i++) {
                        values[k * 4 + i] = (float) (q[i] / Math.sqrt(length));
                    }
                }
                Sampler keys = new Sampler(Sampler.Interpolation.LINEAR, times, values, 4, Storage.FLOAT);
                channels.add(channel.withTrack(keys));
            }
        }
        return pilot.withClips(List.of(punt.withName("take").withRate(120).withChannels(channels)));
    }

    private static void take(Report report) throws Exception {
        report.title("A take of 144,000 frames");
        byte[] file = GltfWriter.glb(take());
        Path path = Files.createTempFile("take", ".glb");
        Files.write(path, file);
        report.within("read", Timing.of(1, 3, () -> AssetFiles.open(path, Work.QUIET)), 2000);
        Asset take = AssetFiles.open(path, Work.QUIET);
        Files.delete(path);
        Rig rig = new Rig(take);
        Clip clip = take.clips().getFirst();
        report.within("pose", Timing.of(10, 100, () -> rig.at(clip, 600.5).world()), 1000 / 60.0);
        report.within(
                "trim by a thousand frames",
                Timing.of(0, 3, () -> new TrimClip("take", 1, 143_000, true).apply(take, Work.QUIET)),
                5000);
        report.within(
                "reduce to 2 mm", Timing.of(0, 1, () -> new ReduceKeys("take", 2).apply(take, Work.QUIET)), 60_000);
    }

    /** A motion file of Debian's assimp-testmodels. */
    private static Asset openTake() throws Exception {
        Path root = Path.of(System.getProperty("marrow.root", "."));
        return AssetFiles.open(root.resolve("formats/src/test/resources/samples/01_01.bvh"), Work.QUIET);
    }

    private static void compare(Asset asset, Clip clip, double millimetres) throws Exception {
        Asset alone = asset.withClips(List.of(clip));
        Clip ours = new ReduceKeys("*", millimetres)
                .apply(alone, Work.QUIET)
                .asset()
                .clips()
                .getFirst();
        ClipDifference difference = new ClipDifference(alone);
        int many = (int) Math.ceil(clip.seconds() * clip.rate() * 8);
        // Keys too: ways part most at them, and not all lie on frames.
        double[] times = DoubleStream.concat(
                        IntStream.rangeClosed(0, many).mapToDouble(i -> clip.start() + clip.seconds() * i / many),
                        clip.keyTimes().stream().mapToDouble(Float::doubleValue))
                .toArray();
        double error = largest(difference, clip, ours, times);
        Clip plain = coarsest(difference, clip, times, error, t -> plain(clip, t));
        long theirs = optimised(alone, coarsest(difference, clip, times, error, t -> rounded(clip, t)));
        Clip splines = new ReduceKeys("*", millimetres, ReduceKeys.Between.CUBIC)
                .apply(alone, Work.QUIET)
                .asset()
                .clips()
                .getFirst();
        System.out.printf(
                "  %-12s %-10s %4.1f mm: off %.3f mm; %d, %d, %d, %.2f; %d, %.2f, %.2f; %d, %.2f%n",
                asset.name(),
                clip.name(),
                millimetres,
                error * 1000,
                clip.keyCount(),
                ours.keyCount(),
                plain.keyCount(),
                ours.keyCount() / (double) plain.keyCount(),
                splines.keyCount(),
                splines.keyCount() / (double) plain.keyCount(),
                numbers(splines) / (double) numbers(plain),
                theirs,
                ours.keyCount() / (double) theirs);
    }

    /** The clip made with the largest tolerance that leaves the skin within an error. */
    private static Clip coarsest(
            ClipDifference difference, Clip clip, double[] times, double error, DoubleFunction<Clip> made) {
        double low = 1e-7;
        double high = 1;
        Clip out = clip;
        for (int i = 0; i < 24; i++) {
            double middle = Math.sqrt(low * high);
            Clip tried = made.apply(middle);
            if (largest(difference, clip, tried, times) <= error) {
                out = tried;
                low = middle;
            } else {
                high = middle;
            }
        }
        return out;
    }

    /** three.js takes out only keys that are the same as both neighbours, so values are rounded for it first. */
    private static Clip rounded(Clip clip, double step) {
        return clip.withChannels(clip.channels().stream()
                .map(c -> {
                    if (!(c.track() instanceof Sampler s)) {
                        return c;
                    }
                    float[] values = s.values().clone();
                    for (int i = 0; i < values.length; i++) {
                        values[i] = (float) (Math.rint(values[i] / step) * step);
                    }
                    return c.withTrack(new Sampler(s.interpolation(), s.times(), values, s.width(), Storage.FLOAT));
                })
                .toList());
    }

    private static long optimised(Asset asset, Clip clip) throws Exception {
        String keys = NodeScript.said("optimise.mjs", GltfWriter.glb(asset.withClips(List.of(clip))));
        return keys.isEmpty() ? -1 : Long.parseLong(keys.strip());
    }

    private static long numbers(Clip clip) {
        return clip.channels().stream()
                .filter(c -> c.track() instanceof Sampler)
                .mapToLong(c -> c.sampler().values().length)
                .sum();
    }

    private static double largest(ClipDifference difference, Clip a, Clip b, double[] times) {
        return Arrays.stream(difference.source(a, times, false, Work.QUIET).from(b, Work.QUIET))
                .max()
                .orElse(0);
    }

    /** One tolerance for every channel, in its own unit: metres, radians, sizes. */
    private static Clip plain(Clip clip, double tolerance) {
        return clip.withChannels(clip.channels().stream()
                .map(c -> c.track() instanceof Sampler s
                        ? c.withTrack(new KeyReduction(s, c.path() == Channel.Path.ROTATION).at(tolerance))
                        : c)
                .toList());
    }
}
