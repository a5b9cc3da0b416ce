package org.cleanmarrow.desktop.uv;

import java.awt.image.BufferedImage;
import java.awt.image.DataBufferInt;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import javafx.application.Platform;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import org.cleanmarrow.desktop.desk.AppLog;
import org.cleanmarrow.desktop.desk.WorkThreads;

/** Draws the newest picture that was ordered, on a thread of its own; those that were overtaken are never drawn. */
final class UvPainter {
    private final Consumer<WritableImage> shown;
    private final AtomicReference<UvPicture> wanted = new AtomicReference<>();
    private final Thread thread;
    private volatile boolean closed;
    /** Ordered and not yet shown; on the interface thread. */
    private int pending;

    private UvPicture last;
    private BufferedImage ground;

    UvPainter(Consumer<WritableImage> shown) {
        this.shown = shown;
        thread = Thread.ofPlatform()
                .daemon()
                .name("uv-view")
                .priority(WorkThreads.SEEN)
                .unstarted(this::run);
        thread.start();
    }

    void order(UvPicture picture) {
        if (wanted.getAndSet(picture) == null) {
            pending++;
            synchronized (wanted) {
                wanted.notifyAll();
            }
        }
    }

    boolean isBusy() {
        return pending > 0;
    }

    void close() {
        closed = true;
        synchronized (wanted) {
            wanted.notifyAll();
        }
    }

    private UvPicture next() throws InterruptedException {
        synchronized (wanted) {
            while (wanted.get() == null && !closed) {
                wanted.wait();
            }
            return closed ? null : wanted.getAndSet(null);
        }
    }

    private void run() {
        try {
            for (UvPicture picture = next(); picture != null; picture = next()) {
                int[] pixels = null;
                try {
                    pixels = drawn(picture);
                } catch (RuntimeException e) {
                    AppLog.failed("drawing texture coordinates", e);
                }
                int[] done = pixels;
                UvPicture of = picture;
                Platform.runLater(() -> show(of, done));
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private int[] drawn(UvPicture picture) {
        if (!picture.hasGroundOf(last)) {
            ground = picture.ground();
            last = picture;
        }
        return ((DataBufferInt) picture.over(ground).getRaster().getDataBuffer()).getData();
    }

    private void show(UvPicture of, int[] pixels) {
        pending--;
        if (pixels != null && !closed) {
            for (int i = 0; i < pixels.length; i++) {
                pixels[i] |= 0xFF000000;
            }
            WritableImage image = new WritableImage(of.width(), of.height());
            image.getPixelWriter()
                    .setPixels(0, 0, of.width(), of.height(), PixelFormat.getIntArgbInstance(), pixels, 0, of.width());
            shown.accept(image);
        }
    }
}
