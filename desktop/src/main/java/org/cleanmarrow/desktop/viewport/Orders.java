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
import org.cleanmarrow.model.Asset;
import org.lwjgl.BufferUtils;

/**
 * The pictures of one view: the newest order is drawn on the thread of OpenGL and handed to the interface thread; orders that were
 * overtaken are never drawn.
 */
final class Orders {
    /** One being drawn, one on its way, one shown, one that may still be on its way to the screen. */
    private static final int FRAMES = 4;

    private static final int MOST_TRIES = 3;

    private final Consumer<WritableImage> shown;
    private final Consumer<String> failed;
    private final BlockingQueue<Frame> free = new ArrayBlockingQueue<>(FRAMES);
    private final Deque<Frame> onScreen = new ArrayDeque<>();
    private Picture wanted;
    private Asset onScreenNow;
    private boolean busy;
    private boolean closed;
    private int tries;
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

        /** This one, or another where the picture is of another size. */
        Frame fitting(Picture p) {
            boolean fits = image.getWidth() == p.width() && image.getHeight() == p.height();
            return fits ? this : new Frame(p.width(), p.height());
        }
    }

    /**
     * @param shown  receives finished pictures on the interface thread
     * @param failed receives what is missing where there is no OpenGL, on the interface thread
     */
    Orders(Consumer<WritableImage> shown, Consumer<String> failed) {
        this.shown = shown;
        this.failed = failed;
        for (int i = 0; i < FRAMES; i++) {
            free.add(new Frame(1, 1));
        }
        // OpenGL is set up while the window is.
        RenderThread.get().wake(this);
    }

    synchronized void order(Picture picture) {
        if (!closed) {
            wanted = picture;
            RenderThread.get().wake(this);
        }
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
        wanted = null;
        RenderThread.get().wake(this);
    }

    private synchronized Picture taken() {
        Picture picture = wanted;
        wanted = null;
        busy = picture != null;
        return picture;
    }

    private synchronized void done() {
        busy = false;
    }

    private synchronized boolean isClosed() {
        return closed;
    }

    /** What the last picture that was shown is of; null for none. On the interface thread. */
    Asset shows() {
        return onScreenNow;
    }

    private void show(Frame frame, Asset of) {
        onScreenNow = of;
        frame.pixels.updateBuffer(b -> null);
        shown.accept(frame.image);
        onScreen.add(frame);
        if (onScreen.size() > 2) {
            free.add(onScreen.remove());
        }
    }

    /** Draws what is wanted, if anything; on the thread of OpenGL. */
    void draw(Renderer renderer) throws InterruptedException {
        software = renderer.isSoftware();
        if (isClosed()) {
            renderer.forget();
            return;
        }
        Picture picture = taken();
        if (picture == null) {
            return;
        }
        Frame frame = free.take().fitting(picture);
        long start = System.nanoTime();
        try {
            renderer.draw(picture, frame.bytes);
        } catch (RuntimeException e) {
            free.add(frame);
            putBack(picture);
            throw e;
        }
        if (!picture.still()) {
            movingMilliseconds = (System.nanoTime() - start) / 1e6;
        }
        Platform.runLater(() -> show(frame, picture.now()));
        done();
    }

    private synchronized void putBack(Picture picture) {
        wanted = wanted == null && !closed ? picture : wanted;
        busy = false;
    }

    /** Whether what failed is tried again with OpenGL set up anew; a few times. */
    synchronized boolean mayTryAgain() {
        return ++tries <= MOST_TRIES && !closed;
    }

    /** Nothing is drawn any more. */
    void giveUp(String why) {
        synchronized (this) {
            closed = true;
            busy = false;
            wanted = null;
        }
        Platform.runLater(() -> failed.accept(why));
    }
}
