package org.cleanmarrow.bench;

import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import javafx.application.Platform;
import javafx.scene.Scene;
import javafx.stage.Stage;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Desk;
import org.cleanmarrow.desktop.window.MainWindow;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;

/** A real window on a desk of its own, and how long its interface thread lets wait. */
final class BenchedWindow {
    /** Nobody feels less than this. */
    private static final double FELT = 50;

    /** How often what a wait is spent in is looked at, milliseconds. */
    private static final long LOOK = 3;

    private static final String STOPPED = "stopped, or without a core";
    private static final ThreadMXBean THREADS = ManagementFactory.getThreadMXBean();

    private static final double[] EDGES = {4, 8, 16.7, 33, 50, 100, 250, 1000};

    final Path home = Files.createTempDirectory("marrow-bench");
    private final List<double[]> waits = new ArrayList<>();
    private final Map<String, Integer> slow = new TreeMap<>();
    private final Thread interfaceThread;
    private double longestOwn;
    private Thread listener;
    private volatile boolean over;
    final Desk desk;
    final MainWindow window;
    final Scene scene;

    BenchedWindow() throws Exception {
        CountDownLatch started = new CountDownLatch(1);
        Platform.startup(started::countDown);
        started.await();
        interfaceThread = on(Thread::currentThread);
        desk = on(() -> new Desk(new AppFolder(home)));
        window = on(() -> new MainWindow(desk));
        scene = on(() -> {
            Stage stage = new Stage();
            stage.setScene(window.scene(1280, 800));
            stage.show();
            return stage.getScene();
        });
    }

    void close() throws Exception {
        on(() -> {
            window.close();
            desk.close();
            return null;
        });
    }

    /** Listens from now on. */
    void listens() {
        over = false;
        waits.clear();
        slow.clear();
        longestOwn = 0;
        listener = Thread.ofPlatform().daemon().start(this::listen);
    }

    /** Listens no longer, and says what it heard. */
    Timing heard() throws Exception {
        over = true;
        listener.join();
        return Timing.sorted(waits.stream().mapToDouble(w -> w[0]).toArray());
    }

    /** As {@link #heard}, with what the interface thread was in. */
    void heard(Report report, String title) throws Exception {
        Timing timing = heard();
        report.title(title);
        histogram(report, timing);
    }

    /** Asks the interface thread for an answer again and again, and keeps how long it let wait. */
    private void listen() {
        while (!over) {
            long start = System.nanoTime();
            CountDownLatch answered = new CountDownLatch(1);
            Platform.runLater(answered::countDown);
            try {
                Map<String, Double> spent = new TreeMap<>();
                long looked = start;
                long used = THREADS.getThreadCpuTime(interfaceThread.threadId());
                while (!answered.await(LOOK, TimeUnit.MILLISECONDS)) {
                    String where = where();
                    boolean runs = interfaceThread.getState() == Thread.State.RUNNABLE;
                    long now = System.nanoTime();
                    long usedNow = THREADS.getThreadCpuTime(interfaceThread.threadId());
                    double passed = (now - looked) / 1e6;
                    // Who could run and did not was stopped by the virtual machine or waited for a core.
                    double ran = runs ? Math.min(passed, (usedNow - used) / 1e6) : passed;
                    spent.merge(where, ran, Double::sum);
                    spent.merge(STOPPED, passed - ran, Double::sum);
                    looked = now;
                    used = usedNow;
                }
                double wait = (System.nanoTime() - start) / 1e6;
                waits.add(new double[] {wait});
                if (wait > FELT) {
                    blame(spent);
                }
                Thread.sleep(2);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    /** A wait is ours where code of ours worked, or waited for another thread, for longer than anybody feels. */
    private void blame(Map<String, Double> spent) {
        double ours = spent.entrySet().stream()
                .filter(e -> !isToolkits(e.getKey()))
                .mapToDouble(Map.Entry::getValue)
                .sum();
        longestOwn = Math.max(longestOwn, ours);
        boolean toolkit = ours <= FELT;
        spent.entrySet().stream()
                .filter(e -> isToolkits(e.getKey()) == toolkit)
                .max(Map.Entry.comparingByValue())
                .ifPresent(e -> slow.merge(e.getKey(), 1, Integer::sum));
    }

    private static boolean isToolkits(String where) {
        return where.startsWith("toolkit") || where.equals("idle") || where.equals(STOPPED);
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

    /** What the interface thread was in when it let wait too long, the commonest first. */
    void blamed(Report report, int most) {
        slow.entrySet().stream()
                .sorted((a, b) -> b.getValue() - a.getValue())
                .limit(most)
                .forEach(e -> report.note(e.getValue() + " times over " + (int) FELT + " ms in " + e.getKey()));
    }

    private void histogram(Report report, Timing timing) {
        double[] all = timing.milliseconds();
        double before = 0;
        for (int i = 0; i <= EDGES.length; i++) {
            double low = before;
            double high = i < EDGES.length ? EDGES[i] : Double.POSITIVE_INFINITY;
            long count = Arrays.stream(all).filter(w -> w >= low && w < high).count();
            report.note(String.format(
                    Locale.ROOT,
                    "%8s to %-8s ms  %8d  %6.3f %%",
                    low,
                    i < EDGES.length ? Double.toString(high) : "more",
                    count,
                    100.0 * count / all.length));
            before = high;
        }
        int toolkit = slow.entrySet().stream()
                .filter(e -> isToolkits(e.getKey()))
                .mapToInt(Map.Entry::getValue)
                .sum();
        int felt = slow.values().stream().mapToInt(Integer::intValue).sum();
        report.note(String.format(
                Locale.ROOT,
                "%d waits over %.0f ms: %d in code of ours, %d in the toolkit's own or without a core",
                felt,
                FELT,
                felt - toolkit,
                toolkit));
        report.note(String.format(Locale.ROOT, "longest in code of ours within one wait: %.1f ms", longestOwn));
        blamed(report, 14);
        report.within("waited for the interface thread", timing, FELT);
        report.note(String.format(
                Locale.ROOT,
                "longest wait %.1f ms, median %.3f ms",
                timing.milliseconds()[all.length - 1],
                timing.median()));
    }

    /** Megabytes of heap in use after collection. */
    static long used() throws InterruptedException {
        long least = Long.MAX_VALUE;
        for (int i = 0; i < 3; i++) {
            System.gc();
            Thread.sleep(120);
            Runtime r = Runtime.getRuntime();
            least = Math.min(least, r.totalMemory() - r.freeMemory());
        }
        return least >> 20;
    }

    void open(Asset asset, String name) throws Exception {
        Path file = home.resolve(name);
        Files.write(file, GltfWriter.glb(asset));
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
    }

    /** Waits until nothing is computed or drawn. */
    void quiet() throws Exception {
        for (int calm = 0; calm < 2; ) {
            Thread.sleep(15);
            calm = on(() -> desk.isQuiet() && !window.viewport().isBusy()) ? calm + 1 : 0;
        }
    }

    static <T> T on(Callable<T> act) throws Exception {
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
