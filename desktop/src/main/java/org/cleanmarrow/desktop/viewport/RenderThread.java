package org.cleanmarrow.desktop.viewport;

import java.nio.ByteBuffer;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.function.Consumer;
import javafx.application.Platform;
import javafx.scene.image.PixelBuffer;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import org.cleanmarrow.desktop.desk.AppLog;
import org.cleanmarrow.desktop.text.Labels;
import org.lwjgl.BufferUtils;

/**
 * Owns OpenGL. Draws the newest order on demand and hands finished pictures to the interface thread; orders that
 * were overtaken are never drawn.
 */
final class RenderThread {
    /** One being drawn, one on its way, one shown, one that may still be on its way to the screen. */
    private static final int FRAMES = 4;

    private static final int MOST_TRIES = 3;

    private final Consumer<WritableImage> shown;
    private final Consumer<String> failed;
    private final BlockingQueue<Frame> free = new ArrayBlockingQueue<>(FRAMES);
    private final Deque<Frame> onScreen = new ArrayDeque<>();
    private Picture wanted;
    private boolean busy;
    private boolean closed;
    private volatile boolean software;
    private volatile double movingMilliseconds;

    /** A picture in memory that is either being drawn or being shown, never both. */
    private static final class Frame {
        private final ByteBuffer bytes;
        private final PixelBuffer<ByteBuffer> pixels;
        private final WritableImage image;

        Frame(int width, int height) {
            bytes = BufferUtils.createByteBuffer(width * height * 4);
            pixels = new PixelBuffer<>(width, height, bytes, PixelFormat.getByteBgraPreInstance());
            image = new WritableImage(pixels);
        }

        boolean fits(Picture p) {
            return image.getWidth() == p.width() && image.getHeight() == p.height();
        }
    }

    /**
     * @param shown  receives finished pictures on the interface thread
     * @param failed receives what is missing where there is no OpenGL, on the interface thread
     */
    RenderThread(Consumer<WritableImage> shown, Consumer<String> failed) {
        this.shown = shown;
        this.failed = failed;
        for (int i = 0; i < FRAMES; i++) {
            free.add(new Frame(1, 1));
        }
        Thread.ofPlatform().daemon().name("viewport").start(this::run);
    }

    synchronized void order(Picture picture) {
        wanted = picture;
        notifyAll();
    }

    /** True while a picture is ordered or being drawn. */
    synchronized boolean isBusy() {
        return busy || wanted != null;
    }

    /** True where no graphics card draws. */
    boolean isSoftware() {
        return software;
    }

    /** How long the last picture took that was drawn while something moved. */
    double movingMilliseconds() {
        return movingMilliseconds;
    }

    synchronized void close() {
        closed = true;
        notifyAll();
    }

    private synchronized Picture next() throws InterruptedException {
        busy = false;
        while (wanted == null && !closed) {
            wait();
        }
        Picture picture = wanted;
        wanted = null;
        busy = picture != null;
        return closed ? null : picture;
    }

    private void show(Frame frame) {
        frame.pixels.updateBuffer(b -> null);
        shown.accept(frame.image);
        onScreen.add(frame);
        if (onScreen.size() > 2) {
            free.add(onScreen.remove());
        }
    }

    /** Draws until it is closed; where OpenGL is lost on the way it is set up anew, a few times. */
    private void run() {
        for (int tries = 0; ; tries++) {
            try {
                drawOrders();
                return;
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            } catch (Error e) {
                AppLog.failed("drawing", e);
                giveUp(Labels.of("said.defect", e.getClass().getSimpleName()));
                return;
            } catch (GlMissing | RuntimeException e) {
                AppLog.failed("drawing", e);
                if (e instanceof GlMissing || tries == MOST_TRIES) {
                    giveUp(e.getMessage());
                    return;
                }
            }
        }
    }

    private void giveUp(String why) {
        synchronized (this) {
            closed = true;
            busy = false;
            wanted = null;
        }
        Platform.runLater(() -> failed.accept(why));
    }

    private void drawOrders() throws GlMissing, InterruptedException {
        try (GlContext context = GlContext.create()) {
            Renderer renderer = new Renderer();
            software = renderer.isSoftware();
            for (Picture picture = next(); picture != null; picture = next()) {
                Frame any = free.take();
                Frame frame = any.fits(picture) ? any : new Frame(picture.width(), picture.height());
                long start = System.nanoTime();
                try {
                    renderer.draw(picture, frame.bytes);
                } catch (RuntimeException e) {
                    free.add(frame);
                    order(picture);
                    throw e;
                }
                if (!picture.still()) {
                    movingMilliseconds = (System.nanoTime() - start) / 1e6;
                }
                Platform.runLater(() -> show(frame));
            }
        }
    }
}
