package org.cleanmarrow.bench;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.demo.ferry.MarshHeron;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.measure.ClipDifference;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.pose.KeyReduction;
import org.cleanmarrow.steps.motion.Bake;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.work.Work;

/** Baking and reducing clips, and how many keys a plain reduction by channel needs for the same error on the skin. */
final class MotionBench {
    private static final double[] BOUNDS = {0.1, 0.5, 1, 2};

    private MotionBench() {}

    static void run(Report report, Asset big) throws Exception {
        report.title("Clips: 10 of 300 frames, 200 joints, 100,000 vertices");
        report.within("bake", Timing.of(1, 5, () -> new Bake("*").apply(big, Work.QUIET)), 1000);
        report.within(
                "reduce keys to 1 mm", Timing.of(1, 3, () -> new ReduceKeys("*", 1).apply(big, Work.QUIET)), 3000);
        System.out.println("keys: all, ours, plain by channel at the same error, ours of plain");
        for (Asset asset : List.of(FerryPilot.asset(), MarshHeron.asset())) {
            for (Clip clip : asset.clips()) {
                for (double bound : BOUNDS) {
                    compare(asset, clip, bound);
                }
            }
        }
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
        double[] times = IntStream.rangeClosed(0, many)
                .mapToDouble(i -> clip.start() + clip.seconds() * i / many)
                .toArray();
        double error = largest(difference, clip, ours, times);
        double low = 1e-7;
        double high = 1;
        Clip plain = clip;
        for (int i = 0; i < 24; i++) {
            double middle = Math.sqrt(low * high);
            Clip tried = plain(clip, middle);
            if (largest(difference, clip, tried, times) <= error) {
                plain = tried;
                low = middle;
            } else {
                high = middle;
            }
        }
        System.out.printf(
                "  %-12s %-10s %4.1f mm: off %.3f mm; %d, %d, %d, %.2f%n",
                asset.name(),
                clip.name(),
                millimetres,
                error * 1000,
                clip.keyCount(),
                ours.keyCount(),
                plain.keyCount(),
                ours.keyCount() / (double) plain.keyCount());
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
                        ? c.withTrack(KeyReduction.of(s, c.path() == Channel.Path.ROTATION, tolerance))
                        : c)
                .toList());
    }
}
