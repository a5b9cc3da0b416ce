package org.cleanmarrow.desktop.desk;

import java.util.concurrent.CancellationException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import javafx.application.Platform;
import org.cleanmarrow.desktop.text.Labels;
import org.cleanmarrow.work.Work;

/**
 * Computation away from the interface thread, one task after the other. Results come back on the interface
 * thread; a cancelled task's never do.
 */
final class WorkQueue {
    /** Work of so many milliseconds is worth a line in the log. */
    private static final long LONG = 1000;

    private final String name;
    private final ExecutorService executor;
    private final AtomicInteger pending = new AtomicInteger();
    private final Consumer<Progress> progress;
    private final AtomicLong submitted = new AtomicLong();
    /** Tasks submitted before this one are no longer wanted. */
    private volatile long wantedFrom;

    /** How far a task is; {@code share} below 0 where it is not known. */
    record Progress(double share, String doing) {}

    /** Something that takes time and may fail. */
    interface Task<T> {
        T run(Work work) throws Exception;
    }

    private final class Running implements Work {
        private final long number = submitted.getAndIncrement();
        private long lastSaid;

        @Override
        public void at(double share, String doing) {
            long now = System.nanoTime();
            if (now - lastSaid > 50_000_000L) {
                lastSaid = now;
                Platform.runLater(() -> progress.accept(new Progress(share, doing)));
            }
        }

        @Override
        public boolean cancelled() {
            return number < wantedFrom;
        }
    }

    WorkQueue(String name, Consumer<Progress> progress) {
        this(name, WorkThreads.WORK, progress);
    }

    WorkQueue(String name, int priority, Consumer<Progress> progress) {
        this.name = name;
        this.progress = progress;
        executor = Executors.newSingleThreadExecutor(
                Thread.ofPlatform().daemon().name(name).priority(priority).factory());
    }

    /** True while anything is queued or running, or its result is on the way. */
    boolean isBusy() {
        return pending.get() > 0;
    }

    /** Ends what is running and what is queued; their results never come. */
    void cancel() {
        wantedFrom = submitted.get();
    }

    <T> void run(Task<T> task, Consumer<T> then, Consumer<Exception> failed) {
        run(task, then, failed, () -> {});
    }

    /** @param cancelled called in place of the others where the task was cancelled */
    <T> void run(Task<T> task, Consumer<T> then, Consumer<Exception> failed, Runnable cancelled) {
        // Whoever asks after the window is gone, as a clock may, waits for nothing.
        if (executor.isShutdown()) {
            return;
        }
        pending.incrementAndGet();
        Running mine = new Running();
        executor.execute(() -> {
            long began = System.nanoTime();
            try {
                mine.stopIfCancelled();
                T result = task.run(mine);
                long took = (System.nanoTime() - began) / 1_000_000;
                if (took > LONG) {
                    AppLog.did(name, took);
                }
                finish(() -> {
                    if (mine.cancelled()) {
                        cancelled.run();
                    } else {
                        then.accept(result);
                    }
                });
            } catch (CancellationException e) {
                finish(cancelled);
            } catch (Exception e) {
                AppLog.failed(name, e);
                finish(() -> failed.accept(e));
            } catch (OutOfMemoryError e) {
                AppLog.failed(name, e);
                finish(() -> failed.accept(new Exception(Labels.of("said.memory"))));
            } catch (Throwable e) {
                // Whatever it is: somebody waits for an end.
                AppLog.failed(name, e);
                finish(() -> failed.accept(
                        new Exception(Labels.of("said.defect", e.getClass().getSimpleName()), e)));
            }
        });
    }

    private void finish(Runnable then) {
        Platform.runLater(() -> {
            try {
                progress.accept(null);
                then.run();
            } finally {
                // Last: whoever finds it idle finds all that came of it.
                pending.decrementAndGet();
            }
        });
    }

    void close() {
        cancel();
        executor.shutdownNow();
    }

    /** Lets what is running come to its end first, for a while. */
    void closeGently() {
        cancel();
        closeWhenDone();
    }

    /** Lets all that was asked for come to its end first, for a while; no results come any more. */
    void closeWhenDone() {
        executor.shutdown();
        try {
            executor.awaitTermination(2, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
