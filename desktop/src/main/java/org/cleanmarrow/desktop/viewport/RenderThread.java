package org.cleanmarrow.desktop.viewport;

import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import org.cleanmarrow.desktop.desk.AppLog;
import org.cleanmarrow.desktop.desk.WorkThreads;
import org.cleanmarrow.desktop.text.Labels;

/**
 * Owns OpenGL: the one thread that draws for all views of the process, for a context and its shaders take half a second to make
 * where no graphics card draws. Where OpenGL is lost on the way it is set up anew.
 */
final class RenderThread {
    private static final RenderThread ONE = new RenderThread();

    private final BlockingQueue<Orders> waiting = new LinkedBlockingQueue<>();

    private RenderThread() {
        Thread.ofPlatform().daemon().name("viewport").priority(WorkThreads.SEEN).start(this::run);
    }

    static RenderThread get() {
        return ONE;
    }

    /** Draws what a view wants by then. */
    void wake(Orders view) {
        waiting.add(view);
    }

    private void run() {
        try {
            while (true) {
                drawFrom(waiting.take());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Draws one order after the other, until OpenGL fails one. */
    private void drawFrom(Orders first) throws InterruptedException {
        Orders view = first;
        try (GlContext context = GlContext.create()) {
            Renderer renderer = new Renderer();
            while (true) {
                view.draw(renderer);
                view = waiting.take();
            }
        } catch (Error e) {
            AppLog.failed("drawing", e);
            view.giveUp(Labels.of("said.defect", e.getClass().getSimpleName()));
        } catch (GlMissing e) {
            AppLog.failed("drawing", e);
            view.giveUp(e.getMessage());
        } catch (RuntimeException e) {
            AppLog.failed("drawing", e);
            if (view.mayTryAgain()) {
                waiting.add(view);
            } else {
                view.giveUp(e.getMessage());
            }
        }
    }
}
