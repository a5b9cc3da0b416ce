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
import org.lwjgl.BufferUtils;

/**
 * Owns OpenGL. Draws the newest order on demand and hands finished pictures to the interface thread; orders that
 * were overtaken are never drawn.
 */
final class RenderThread {
    /** One being drawn, one on its way, one shown, one that may still be on its way to the screen. */
    private static final int FRAMES = 4;

    private final Consumer<WritableImage> shown;
    private final Consumer<String> failed;
    private final BlockingQueue<Frame> free = new ArrayBlockingQueue<>(FRAMES);
    private final Deque<Frame> onScreen = new ArrayDeque<>();
    private Picture wanted;
    private boolean busy;
    private boolean closed;

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

    private void run() {
        try (GlContext context = GlContext.create()) {
            Renderer renderer = new Renderer();
            for (int i = 0; i < FRAMES; i++) {
                free.add(new Frame(1, 1));
            }
            for (Picture picture = next(); picture != null; picture = next()) {
                Frame any = free.take();
                Frame frame = any.fits(picture) ? any : new Frame(picture.width(), picture.height());
                renderer.draw(picture, frame.bytes);
                Platform.runLater(() -> show(frame));
            }
        } catch (GlMissing | RuntimeException e) {
            synchronized (this) {
                closed = true;
                busy = false;
                wanted = null;
            }
            Platform.runLater(() -> failed.accept(e.getMessage()));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
