package org.cleanmarrow.desktop.viewport;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.TimeUnit;
import javafx.scene.image.WritableImage;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.model.Asset;
import org.testfx.api.FxToolkit;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;

/** The picture when OpenGL fails on the way: it is set up anew, and when that is of no use it says why. */
public class OrdersTest {
    private static final long PATIENCE_SECONDS = 40;

    @BeforeClass
    public void startToolkit() throws Exception {
        FxToolkit.registerPrimaryStage();
    }

    private static Picture picture(int width, Asset asset, int joint) {
        return new Picture(
                width,
                90,
                Camera.front(),
                asset,
                asset,
                0,
                null,
                null,
                0,
                ShadingMode.INFLUENCE,
                joint,
                -1,
                null,
                Picture.Marked.NONE,
                Picture.Marked.NONE,
                Picture.Look.PLAIN,
                Box.empty(),
                true);
    }

    @Test
    public void picturesComeAsTheyAreOrdered() throws Exception {
        BlockingQueue<WritableImage> shown = new ArrayBlockingQueue<>(8);
        BlockingQueue<String> failed = new ArrayBlockingQueue<>(8);
        Orders orders = new Orders(shown::add, failed::add);
        for (int width : new int[] {120, 64, 200}) {
            orders.order(picture(width, FerryPilot.asset(), 5));
            WritableImage image = shown.poll(PATIENCE_SECONDS, TimeUnit.SECONDS);
            assertThat(image).isNotNull();
            assertThat(image.getWidth()).isEqualTo(width);
        }
        orders.close();
        assertThat(failed).isEmpty();
    }

    /** Far wider than any driver draws: an error of OpenGL itself, which a new context does not cure. */
    @Test
    public void anErrorOfOpenGlItselfIsTriedAgainAndThenSaid() throws Exception {
        BlockingQueue<WritableImage> shown = new ArrayBlockingQueue<>(8);
        BlockingQueue<String> failed = new ArrayBlockingQueue<>(8);
        Orders orders = new Orders(shown::add, failed::add);
        orders.order(picture(200_000, FerryPilot.asset(), 5));
        assertThat(failed.poll(PATIENCE_SECONDS, TimeUnit.SECONDS)).contains("OpenGL");
        assertThat(shown).isEmpty();
        assertThat(orders.isBusy()).isFalse();
        // Other views have lost nothing by it.
        Orders another = new Orders(shown::add, failed::add);
        another.order(picture(64, FerryPilot.asset(), 5));
        assertThat(shown.poll(PATIENCE_SECONDS, TimeUnit.SECONDS)).isNotNull();
        another.close();
        assertThat(failed).isEmpty();
    }
}
