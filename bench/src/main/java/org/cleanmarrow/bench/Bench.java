package org.cleanmarrow.bench;

import org.cleanmarrow.desktop.desk.WorkThreads;
import org.cleanmarrow.model.Asset;

/**
 * Measures what has a goal in docs/speed.md, each beside its yardstick in the same run: {@code ./marrow bench}.
 * {@code ./marrow bench desk MINUTES} runs a scripted session at a real window instead, {@code bench growth} measures how
 * work grows, {@code bench mutate COUNT} gives readers broken files, {@code bench deliver COUNT} delivers COLLADA again and
 * again in one process, {@code bench motion} bakes and reduces clips, {@code bench take} works on a take of 20 minutes at a real window,
 * {@code bench cache} makes a hundred steps on a large vertex cache. Exits with 1 where a goal is
 * missed.
 */
public final class Bench {
    private Bench() {}

    public static void main(String[] arguments) throws Exception {
        WorkThreads.giveWay();
        Report report = new Report();
        System.out.printf(
                "%s, Java %s, %d cores, %d MB heap at most%n",
                System.getProperty("os.name"),
                System.getProperty("java.version"),
                Runtime.getRuntime().availableProcessors(),
                Runtime.getRuntime().maxMemory() >> 20);
        if (arguments.length > 0 && arguments[0].equals("desk")) {
            DeskBench.run(report, arguments.length > 1 ? Double.parseDouble(arguments[1]) : 10);
        } else if (arguments.length > 0 && arguments[0].equals("start")) {
            StartBench.run(report);
        } else if (arguments.length > 0 && arguments[0].equals("skin")) {
            SkinBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("skinning")) {
            SkinningBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("edit")) {
            EditBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("motion")) {
            MotionBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("collision")) {
            CollisionBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("playable")) {
            PlayableBench.run(report, BigAsset.make(10));
            UvBench.run(report);
        } else if (arguments.length > 0 && arguments[0].equals("take")) {
            TakeBench.run(report);
        } else if (arguments.length > 0 && arguments[0].equals("cache")) {
            CacheBench.run(report, BigAsset.make(10));
        } else if (arguments.length > 0 && arguments[0].equals("growth")) {
            GrowthBench.run(report);
        } else if (arguments.length > 0 && arguments[0].equals("mutate")) {
            MutationBench.run(report, arguments.length > 1 ? Integer.parseInt(arguments[1]) : 1_000_000);
        } else if (arguments.length > 0 && arguments[0].equals("deliver")) {
            MutationBench.deliver(report, arguments.length > 1 ? Integer.parseInt(arguments[1]) : 3000);
        } else {
            Asset big = BigAsset.make(10);
            SkinningBench.run(report, big);
            EditBench.run(report, big);
            SkinBench.run(report, big);
            ViewBench.run(report, big);
            FileBench.run(report, big);
        }
        System.out.println();
        System.out.println(report.missed() == 0 ? "All goals met." : report.missed() + " goals missed.");
        System.exit(report.missed() == 0 ? 0 : 1);
    }
}
