package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** The pilot as two files, model and clips apart, opened as one; and what is remembered of it. */
public class JoinedFilesTest extends DeskWindow {
    private Path model;
    private Path clips;

    @Override
    void prepareHome() throws Exception {
        Asset pilot = FerryPilot.asset();
        model = home.resolve("pilot-model.glb");
        clips = home.resolve("pilot-clips.glb");
        Files.write(model, GltfWriter.glb(pilot.withClips(List.of())));
        List<Node> bare = pilot.nodes().stream().map(n -> n.withMesh(-1, -1)).toList();
        Files.write(clips, GltfWriter.glb(pilot.withNodes(bare).withMeshes(List.of())));
    }

    private void openBoth() throws Exception {
        on(() -> {
            desk.files().open(List.of(model, clips));
            return null;
        });
        quiet();
    }

    @Test
    public void togetherTheyMoveAsThePilotDoes() throws Exception {
        openBoth();
        assertThat(on(() -> desk.now().clips().size())).isEqualTo(3);
        Motion motion = MotionProbe.compare(FerryPilot.asset(), on(() -> desk.now()), Work.QUIET);
        assertThat(motion.unmatched()).isEmpty();
        assertThat(motion.largestMetres()).isLessThan(1e-5);
        assertThat(text("#message")).contains("2 files").contains("joints found by name");
        station(Station.INTAKE);
        assertThat(on(() -> desk.folder().recent())).hasSize(2).first().isEqualTo(model.toAbsolutePath());
    }

    @Test
    public void whenOneOfThemIsBrokenTheDeskStaysAsItWas() throws Exception {
        openDemo();
        Asset before = on(() -> desk.now());
        Files.write(clips, new byte[] {'g', 'l', 'T', 'F', 2, 0, 0, 0, 9});
        openBoth();
        assertThat(on(() -> desk.now())).isSameAs(before);
        assertThat(on(() -> desk.jobs().trouble().get())).isTrue();
        assertThat(text("#message")).contains("pilot-clips.glb");
    }

    @Test
    public void aCrashGivesBothBack() throws Exception {
        openBoth();
        on(() -> {
            desk.apply(new TrimEnds());
            return null;
        });
        quiet();
        Path own = home.resolve("work-" + ProcessHandle.current().pid() + ".recovery");
        assertThat(own).exists();
        // As another process would find it once this one is gone.
        Path left = home.resolve("work-99999999998.recovery");
        Files.copy(own, left);
        AppFolder.Leftover leftover = new AppFolder(home).leftovers().getFirst();
        assertThat(leftover.name()).isEqualTo("pilot-model.glb");
        on(() -> {
            desk.files().recover(leftover);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.now().clips().size())).isEqualTo(3);
        assertThat(on(() -> desk.history().done()))
                .hasSize(1)
                .allMatch(d -> d.outcome().isPresent());
        assertThat(left).doesNotExist();
    }

    @Test
    public void stepsThatFollowEachOtherQuicklyAllCount() throws Exception {
        openDemo();
        on(() -> {
            // All are asked for before the first is done.
            desk.apply(new org.cleanmarrow.steps.skin.NormaliseWeights(""));
            desk.apply(new org.cleanmarrow.steps.skin.AssignUnweighted("", java.util.Optional.empty()));
            desk.apply(new TrimEnds());
            desk.apply(new org.cleanmarrow.steps.skeleton.AddRoot("root"));
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done()))
                .hasSize(4)
                .allSatisfy(d -> assertThat(d.motion()).isPresent());
        assertThat(on(() -> desk.findings().stream().map(f -> f.check()).toList()))
                .doesNotContain("strays", "weight-sums", "end-joints", "root");
    }
}
