package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.testng.annotations.Test;

/** After a session that was killed, the work is offered back. */
public class RecoveryTest extends DeskWindow {
    private Path left;

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
}
