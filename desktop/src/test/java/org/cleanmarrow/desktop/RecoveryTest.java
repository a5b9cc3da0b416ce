package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.ListView;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.station.Act;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.testng.annotations.Test;

/** No steps are lost: those of a session that was killed, of what was closed, and of what another file took the place of, are offered back. */
public class RecoveryTest extends DeskWindow {
    private Path left;

    @Override
    boolean hasOneForEach() {
        return true;
    }

    @Override
    void prepareHome() throws Exception {
        Path source = home.resolve("pilot.glb");
        Files.write(source, GltfWriter.glb(FerryPilot.asset()));
        // A process number above what this system gives, so that it is certainly not running.
        left = home.resolve("work-99999999999.recovery");
        Files.writeString(
                left,
                source + "\n"
                        + Ledger.EMPTY
                                .plus(new AddRoot("root"))
                                .plus(new TrimEnds())
                                .toJson());
    }

    @Test
    public void theStepsComeBack() throws Exception {
        click("#welcome-recover");
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(2);
        assertThat(on(() -> AddRoot.hasCleanRoot(desk.now()))).isTrue();
        assertThat(left).doesNotExist();
        assertThat(text("#message")).contains("2 steps");
    }

    @Test
    public void whatIsClosedIsGoneOnWith() throws Exception {
        openDemo();
        apply(new AddRoot("root"));
        station(Station.MOTION);
        // Folded by hand, and open again as at the start, though there is nothing its form could show.
        Act opened = on(() -> window.stationActs().stream()
                .filter(a -> a.id().equals("motion-clip"))
                .findFirst()
                .orElseThrow());
        on(() -> {
            opened.openProperty().set(false);
            return null;
        });
        hand.push(KeyCode.CONTROL, KeyCode.W);
        quiet();
        assertThat(on(() -> opened.openProperty().get())).isTrue();
        assertThat(on(() -> desk.isOpen())).isFalse();
        assertThat(on(() -> desk.findings())).isEmpty();
        assertThat(on(() -> ((ListView<?>) scene.lookup("#findings")).getItems()))
                .isEmpty();
        assertThat(on(() -> scene.lookup("#chip-1"))).isNull();
        assertThat(text("#findings-count")).as("of nothing").isEmpty();
        assertThat(on(() -> scene.lookup("#to-delivery").isDisabled())).isTrue();
        assertThat(on(() -> scene.lookup("#mend-all").isDisabled())).isTrue();
        Hyperlink goOn = (Hyperlink) find("#welcome-recover");
        assertThat(on(goOn::getText)).startsWith("ferry-pilot, left 20");
        click("#welcome-recover");
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(1);
        assertThat(on(() -> AddRoot.hasCleanRoot(desk.now()))).isTrue();
        assertThat(on(() -> desk.isExamined())).isTrue();
        assertThat(names()).as("on the desk, no longer beside it").containsExactly("pilot.glb");
    }

    @Test
    public void whatAnotherTakesThePlaceOfIsKept() throws Exception {
        openDemo();
        on(() -> {
            desk.files().openDemo();
            return null;
        });
        quiet();
        assertThat(names()).as("nothing was done to it").hasSize(1);
        apply(new AddRoot("root"));
        on(() -> {
            desk.files().openDemo();
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done())).isEmpty();
        assertThat(names()).containsExactly("ferry-pilot", "pilot.glb");
    }

    @Test
    public void whatTheWindowClosesOnIsKept() throws Exception {
        openDemo();
        apply(new AddRoot("root"));
        on(() -> {
            desk.close();
            return null;
        });
        assertThat(names()).containsExactly("ferry-pilot", "pilot.glb");
    }

    @Test
    public void itIsForgottenWhenAsked() throws Exception {
        click("#welcome-forget");
        quiet();
        assertThat(left).doesNotExist();
        assertThat(on(() -> scene.lookup("#welcome-recover"))).isNull();
    }

    private List<String> names() {
        return new AppFolder(home).leftovers().stream().map(l -> l.name()).toList();
    }
}
