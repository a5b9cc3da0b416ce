package org.cleanmarrow.desktop.window;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import javafx.scene.Scene;
import javafx.scene.layout.Region;
import org.cleanmarrow.desktop.desk.Preferences;
import org.testfx.api.FxToolkit;
import org.testng.annotations.Test;

/** How wide the outer columns are: by the window, until somebody drags them. */
public class ColumnsTest {
    @Test
    public void wideWindowsGiveThemMoreUntilTheyAreDragged() throws Exception {
        FxToolkit.registerPrimaryStage();
        Path file = Files.createTempDirectory("marrow-columns").resolve("preferences.properties");
        double[] usual = widths(new Preferences(file), 1280);
        double[] wide = widths(new Preferences(file), 1920);
        assertThat(usual).containsExactly(219, 336);
        assertThat(widths(new Preferences(file), 1100)).containsExactly(usual);
        assertThat(wide[0]).isEqualTo(Math.rint(219 * 1.5));
        assertThat(wide[1]).isEqualTo(336 * 1.25);
        assertThat(widths(new Preferences(file), 4000))
                .as("the view gains the rest")
                .containsExactly(wide);

        Preferences dragged = new Preferences(file);
        dragged.left().set(260);
        assertThat(widths(dragged, 1920)).containsExactly(260, 336 * 1.25);
        assertThat(widths(new Preferences(file), 1280)).as("kept").containsExactly(260, 336);

        Preferences large =
                new Preferences(Files.createTempDirectory("marrow-columns").resolve("p"));
        large.scale().set(1.5);
        assertThat(widths(large, 1920)).as("everything is half as large again").containsExactly(usual);
    }

    /** Of contents and station in a window. */
    private static double[] widths(Preferences preferences, double window) throws Exception {
        Region contents = new Region();
        Region station = new Region();
        FxToolkit.setupFixture(() -> new Scene(new Columns(preferences, contents, new Region(), station), window, 600));
        return new double[] {contents.getPrefWidth(), station.getPrefWidth()};
    }
}
