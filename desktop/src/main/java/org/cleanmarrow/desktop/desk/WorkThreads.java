package org.cleanmarrow.desktop.desk;

import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.ForkJoinWorkerThread;

/**
 * Priorities of threads beside the interface's: where cores are few, whoever works at the desk would wait for the computation
 * otherwise. On Linux they count with the options of {@code tools/window.jvm}.
 */
public final class WorkThreads implements ForkJoinPool.ForkJoinWorkerThreadFactory {
    /** What is computed. */
    public static final int WORK = Thread.MIN_PRIORITY;
    /** What the eye waits for: pictures, and what lies under the pointer. */
    public static final int SEEN = 3;

    /** Lets parallel computation give way; to be called before any was done in this process. */
    public static void giveWay() {
        System.setProperty("java.util.concurrent.ForkJoinPool.common.threadFactory", WorkThreads.class.getName());
    }

    @Override
    public ForkJoinWorkerThread newThread(ForkJoinPool pool) {
        ForkJoinWorkerThread thread = ForkJoinPool.defaultForkJoinWorkerThreadFactory.newThread(pool);
        thread.setPriority(WORK);
        return thread;
    }
}
