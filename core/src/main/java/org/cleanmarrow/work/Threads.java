package org.cleanmarrow.work;

import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * Lets a window hold itself to leaving computation and files to other threads: what takes time says that it begins, and
 * whoever watches a thread hears of what begins there. Costs nothing where nobody watches.
 */
public final class Threads {
    private static volatile @Nullable Watch watch;

    private record Watch(Thread thread, Consumer<String> told) {}

    private Threads() {}

    /** Watches one thread in place of the one before. */
    public static void watch(Thread thread, Consumer<String> told) {
        watch = new Watch(thread, told);
    }

    public static void watchNone() {
        watch = null;
    }

    /** Something that takes time begins on this thread. */
    public static void begins(String what) {
        Watch now = watch;
        if (now != null && now.thread == Thread.currentThread()) {
            now.told.accept(what);
        }
    }
}
