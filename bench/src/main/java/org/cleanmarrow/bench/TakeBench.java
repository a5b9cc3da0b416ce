package org.cleanmarrow.bench;

import static org.cleanmarrow.bench.BenchedWindow.on;

import java.util.Locale;
import java.util.concurrent.Callable;
import javafx.scene.control.ToggleButton;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.steps.motion.ReduceKeys;
import org.cleanmarrow.steps.motion.TrimClip;

/** A take of 144,000 frames in the window: how long each act takes, and how long the window lets wait meanwhile. */
final class TakeBench {
    /** Longest that the window may let wait while a take is worked on, in milliseconds. */
    private static final double MOST = 250;

    private final BenchedWindow on;
    private final Report report;

    private TakeBench(BenchedWindow on, Report report) {
        this.on = on;
        this.report = report;
    }

    static void run(Report report) throws Exception {
        report.title("A take of 144,000 frames in the window; how long the window let wait meanwhile");
        BenchedWindow on = new BenchedWindow();
        TakeBench bench = new TakeBench(on, report);
        on(() -> {
            on.desk.files().openDemo();
            return null;
        });
        on.quiet();
        bench.during("open", () -> {
            on.open(MotionBench.take(), "take.glb");
            return null;
        });
        bench.during(
                "to Motion, its curves beside",
                () -> on(() -> {
                    on.desk.station().set(Station.MOTION);
                    on.desk.playback().clip().set("take");
                    on.desk.selection().joint().set("left_upper_arm");
                    ((ToggleButton) on.scene.lookup("#time-curves")).setSelected(true);
                    return null;
                }));
        bench.during("play for five seconds", () -> {
            on(() -> {
                on.desk.playback().playing().set(true);
                return null;
            });
            Thread.sleep(5000);
            return on(() -> {
                on.desk.playback().playing().set(false);
                return null;
            });
        });
        bench.during(
                "trim by a thousand frames",
                () -> on(() -> {
                    on.desk.apply(new TrimClip("take", 1, 143_000, true));
                    return null;
                }));
        bench.during("scrub to a hundred moments", () -> {
            for (int i = 0; i < 100; i++) {
                double at = i * 11;
                on(() -> {
                    on.desk.playback().seconds().set(at);
                    return null;
                });
            }
            return null;
        });
        bench.during(
                "reduce to 2 mm",
                () -> on(() -> {
                    on.desk.apply(new ReduceKeys("take", 2));
                    return null;
                }));
        report.note(BenchedWindow.used() + " MB in use after collection, "
                + (Runtime.getRuntime().maxMemory() >> 20) + " MB at most");
        on.close();
    }

    private void during(String what, Callable<?> act) throws Exception {
        on.listens();
        long start = System.nanoTime();
        act.call();
        on.quiet();
        double seconds = (System.nanoTime() - start) / 1e9;
        Timing waits = on.heard();
        double longest = waits.milliseconds()[waits.milliseconds().length - 1];
        report.within(String.format(Locale.ROOT, "%s (%.1f s), longest %.0f ms", what, seconds, longest), waits, MOST);
        on.blamed(report, 5);
    }
}
