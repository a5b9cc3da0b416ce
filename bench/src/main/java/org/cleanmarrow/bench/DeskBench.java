package org.cleanmarrow.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import javafx.application.Platform;
import javafx.stage.Stage;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.RemoveInfluence;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.work.VertexSet;

/**
 * A scripted session at the desk, on a real window: how long the interface thread was ever busy at a stretch, and
 * whether memory stays where it is over many undos and over many openings.
 */
final class DeskBench {
    /** Nobody feels less than this. */
    private static final double FELT = 50;

    private static final double[] EDGES = {4, 8, 16.7, 33, 50, 100, 250, 1000};

    private static final List<Station> STATIONS = List.of(
            Station.INTAKE, Station.SCALE_AND_AXES, Station.SKELETON, Station.SKIN, Station.MOTION, Station.DELIVERY);

    private final Random random = new Random(42);
    private final List<double[]> waits = new ArrayList<>();
    private final Map<String, Integer> slow = new TreeMap<>();
    private Thread interfaceThread;
    private Desk desk;
    private MainWindow window;
    private volatile boolean over;

    static void run(Report report, double minutes) throws Exception {
        CountDownLatch started = new CountDownLatch(1);
        Platform.startup(started::countDown);
        started.await();
        new DeskBench().session(report, minutes);
    }

    private void session(Report report, double minutes) throws Exception {
        Path home = Files.createTempDirectory("marrow-bench");
        on(() -> {
            interfaceThread = Thread.currentThread();
            desk = new Desk(new AppFolder(home));
            window = new MainWindow(desk);
            Stage stage = new Stage();
            stage.setScene(window.scene(1280, 800));
            stage.show();
            return null;
        });
        open(home, BigAsset.make(2), "big.glb");
        for (Station station : STATIONS) {
            // Every card is laid out once before anything is timed: classes load then.
            on(() -> {
                desk.station().set(station);
                return null;
            });
            quiet();
        }
        Thread listener = Thread.ofPlatform().daemon().start(this::listen);
        long end = System.nanoTime() + (long) (minutes * 60e9);
        int acts = 0;
        while (System.nanoTime() < end) {
            act();
            acts++;
            Thread.sleep(40 + random.nextInt(260));
        }
        on(() -> {
            desk.playback().playing().set(false);
            return null;
        });
        quiet();
        over = true;
        listener.join();
        report.title(String.format(
                Locale.ROOT,
                "Interface thread over %.1f minutes, %d acts, 100,000 vertices on the desk",
                minutes,
                acts));
        histogram(report);
        memory(report, home);
        on(() -> {
            window.close();
            desk.close();
            return null;
        });
    }

    /** Asks the interface thread for an answer again and again, and keeps how long it let wait. */
    private void listen() {
        while (!over) {
            long start = System.nanoTime();
            CountDownLatch answered = new CountDownLatch(1);
            Platform.runLater(answered::countDown);
            try {
                if (!answered.await((long) FELT, TimeUnit.MILLISECONDS)) {
                    slow.merge(where(), 1, Integer::sum);
                    answered.await();
                }
                waits.add(new double[] {(System.nanoTime() - start) / 1e6});
                Thread.sleep(2);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    /** What the interface thread is in: our own code where it is, otherwise what the toolkit does. */
    private String where() {
        StackTraceElement[] stack = interfaceThread.getStackTrace();
        for (StackTraceElement frame : stack) {
            if (frame.getClassName().startsWith("org.cleanmarrow")) {
                return frame.getClassName().replaceAll(".*\\.", "") + "." + frame.getMethodName() + ":"
                        + frame.getLineNumber();
            }
        }
        for (StackTraceElement frame : stack) {
            if (frame.getClassName().startsWith("com.sun.javafx")
                    || frame.getClassName().startsWith("javafx.")) {
                return "toolkit: " + frame.getClassName().replaceAll(".*\\.", "") + "." + frame.getMethodName();
            }
        }
        return "idle";
    }

    private void histogram(Report report) {
        double[] all = waits.stream().mapToDouble(w -> w[0]).toArray();
        Timing timing = Timing.sorted(all);
        double before = 0;
        for (int i = 0; i <= EDGES.length; i++) {
            double low = before;
            double high = i < EDGES.length ? EDGES[i] : Double.POSITIVE_INFINITY;
            long count = java.util.Arrays.stream(all)
                    .filter(w -> w >= low && w < high)
                    .count();
            report.note(String.format(
                    Locale.ROOT,
                    "%8s to %-8s ms  %8d  %6.3f %%",
                    low,
                    i < EDGES.length ? Double.toString(high) : "more",
                    count,
                    100.0 * count / all.length));
            before = high;
        }
        slow.entrySet().stream()
                .sorted((a, b) -> b.getValue() - a.getValue())
                .limit(14)
                .forEach(e -> report.note(e.getValue() + " times over " + (int) FELT + " ms in " + e.getKey()));
        report.within("waited for the interface thread", timing, FELT);
        report.note(String.format(
                Locale.ROOT,
                "longest wait %.1f ms, median %.3f ms",
                timing.milliseconds()[all.length - 1],
                timing.median()));
    }

    private void act() throws Exception {
        int kind = random.nextInt(12);
        on(() -> {
            Asset now = desk.now();
            switch (kind) {
                case 0 -> desk.selection().joint().set("joint_" + random.nextInt(200));
                case 1 -> desk.selection().choose(0, some(2000));
                case 2 -> desk.selection().choose(0, some(50_000));
                case 3 ->
                    desk.apply(new SetWeight(
                            "tube",
                            "joint_" + random.nextInt(200),
                            VertexSet.chosen(now.meshes().getFirst(), some(2000)),
                            0.5));
                case 4 -> window.act("undo");
                case 5 -> desk.station().set(random.nextBoolean() ? Station.SKIN : Station.SCALE_AND_AXES);
                case 6 -> {
                    desk.playback().clip().set("clip_1");
                    desk.playback().seconds().set(random.nextDouble() * 9);
                }
                case 7 -> window.viewport().setCamera(window.viewport().camera().orbited(random.nextInt(90) - 45, 4));
                case 8 -> desk.seeing().paint().set(ShadingMode.values()[random.nextInt(ShadingMode.values().length)]);
                case 9 -> window.act("play");
                case 10 -> {
                    BitSet grown = MeshTopology.of(now.meshes().getFirst())
                            .grown(desk.selection().chosen().get().vertices());
                    desk.selection().choose(0, grown);
                }
                default ->
                    desk.apply(new RemoveInfluence(
                            "tube",
                            "joint_" + (1 + random.nextInt(198)),
                            VertexSet.chosen(now.meshes().getFirst(), some(2000)),
                            Optional.empty()));
            }
            return null;
        });
    }

    private BitSet some(int count) {
        BitSet out = new BitSet();
        int from = random.nextInt(100_000 - count);
        out.set(from, from + count);
        return out;
    }

    private void memory(Report report, Path home) throws Exception {
        report.title("Memory in use after collection, MB");
        on(() -> {
            desk.playback().playing().set(false);
            desk.station().set(Station.SKIN);
            desk.files().openDemo();
            return null;
        });
        quiet();
        for (int i = 0; i < 20; i++) {
            on(() -> {
                desk.apply(new SetWeight(
                        "pilot",
                        "head",
                        VertexSet.chosen(desk.now().meshes().getFirst(), firsts(500)),
                        random.nextDouble()));
                return null;
            });
            quiet();
        }
        StringBuilder undos = new StringBuilder("over 500 undos and redos:");
        for (int i = 0; i <= 500; i++) {
            boolean back = i / 15 % 2 == 0;
            on(() -> {
                window.act(back ? "undo" : "redo");
                return null;
            });
            if (i % 100 == 0) {
                quiet();
                undos.append(' ').append(used());
            }
        }
        report.note(undos.toString());
        StringBuilder openings = new StringBuilder("over 200 openings:");
        Path file = home.resolve("pilot.glb");
        Files.write(file, GltfWriter.glb(org.cleanmarrow.demo.pilot.FerryPilot.asset()));
        for (int i = 0; i <= 200; i++) {
            on(() -> {
                desk.files().open(file);
                return null;
            });
            quiet();
            if (i % 40 == 0) {
                openings.append(' ').append(used());
            }
        }
        report.note(openings.toString());
    }

    private static BitSet firsts(int count) {
        BitSet out = new BitSet();
        out.set(0, count);
        return out;
    }

    private static long used() throws InterruptedException {
        long least = Long.MAX_VALUE;
        for (int i = 0; i < 3; i++) {
            System.gc();
            Thread.sleep(120);
            Runtime r = Runtime.getRuntime();
            least = Math.min(least, r.totalMemory() - r.freeMemory());
        }
        return least >> 20;
    }

    private void open(Path home, Asset asset, String name) throws Exception {
        Path file = home.resolve(name);
        Files.write(file, GltfWriter.glb(asset));
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
    }

    private void quiet() throws Exception {
        for (int calm = 0; calm < 2; ) {
            Thread.sleep(15);
            calm = on(() -> desk.isQuiet() && !window.viewport().isBusy()) ? calm + 1 : 0;
        }
    }

    private static <T> T on(Callable<T> act) throws Exception {
        CompletableFuture<T> done = new CompletableFuture<>();
        Platform.runLater(() -> {
            try {
                done.complete(act.call());
            } catch (Exception e) {
                done.completeExceptionally(e);
            }
        });
        return done.get(120, TimeUnit.SECONDS);
    }
}
