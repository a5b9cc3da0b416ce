package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.caches.Shrinking;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.steps.caches.FitCache;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Whole ways by hand, out to a simulation and back, to what an engine plays; every act counts. */
public class CacheWaysTest extends DeskWindow {
    private static final int MOST_ACTS = 15;

    private int acts;

    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    /** Presses a button that records a step. */
    private void act(String button) throws Exception {
        int before = on(() -> desk.history().done().size());
        press("#" + button);
        quiet();
        assertThat(on(() -> desk.history().done().size()))
                .as(button + ": " + text("#message"))
                .isEqualTo(before + 1);
        acts++;
    }

    private void fixed(String check) throws Exception {
        fix(check);
        acts++;
    }

    private Path delivered(String format) throws Exception {
        station(Station.DELIVERY);
        Path out = Files.createTempDirectory("way");
        type("#delivery-folder", out.toString());
        quiet();
        choose("#delivery-format", format);
        quiet();
        press("#deliver");
        quiet();
        acts++;
        assertThat(on(() -> desk.lastDelivery().isPresent()))
                .as(text("#message"))
                .isTrue();
        try (var files = Files.list(out)) {
            return files.filter(f -> f.toString().endsWith("." + format))
                    .findFirst()
                    .orElseThrow();
        }
    }

    private static Path written(String demo) throws Exception {
        Demo one = Demo.named(demo).orElseThrow();
        return Files.write(
                Files.createTempDirectory("ferry").resolve(one.file()),
                one.bytes().get());
    }

    private void open(Path... files) throws Exception {
        on(() -> {
            desk.files().open(List.of(files));
            return null;
        });
        quiet();
        acts++;
    }

    /** Rest and lead-in, clip out; back in millimetres and twelve frames late: laid on, normals, a material, and delivered. */
    @Test
    public void aGarmentGoesOutAndComesBack() throws Exception {
        acts = 0;
        Path pilot = written("ferry-pilot");
        open(pilot);
        station(Station.MOTION);
        pickClip("hail");
        int last = clip("hail").lastFrame();
        type("#lead-in-frames", "12");
        act("lead-in");
        assertThat(clip("hail").lastFrame() - clip("hail").firstFrame()).isEqualTo(last + 12);
        Path out = delivered("glb");
        assertThat(AssetFiles.open(out, Work.QUIET).clips())
                .extracting(Clip::name)
                .contains("hail");

        open(pilot, written("returned-cape"));
        fixed("strays");
        fixed("cache-unit");
        Replay.Done laid = on(() -> desk.history().done().getLast());
        assertThat(laid.step()).isInstanceOf(FitCache.class);
        assertThat(clip("hail_cloth").lastFrame()).isEqualTo(last);
        station(Station.CACHES);
        type("#normals-mesh", "cape");
        act("recompute-normals");
        station(Station.INTAKE);
        int cape = now().findMesh("cape");
        BitSet all = new BitSet();
        all.set(0, now().meshes().get(cape).vertexCount());
        click("#tool-part");
        hand.clickOn(pointOn(cape, all));
        quiet();
        acts++;
        type("#material-name", "oilskin_cape");
        act("own-material");
        Path back = delivered("glb");
        assertThat(acts).isLessThanOrEqualTo(MOST_ACTS);
        Asset landed = AssetFiles.open(back, Work.QUIET);
        assertThat(CacheUse.all(landed)).hasSize(1);
        assertThat(landed.materials()).extracting(m -> m.name()).contains("oilskin_cape");
        assertThat(on(() -> desk.lastDelivery().orElseThrow().landing().largestMetres()))
                .isLessThan(1e-4);
    }

    private Clip clip(String name) throws Exception {
        Asset asset = now();
        return asset.clips().get(asset.findClip(name));
    }

    /** Floes to joints, shrunk, begun at frame 0, a hundred times as large, delivered. */
    @Test
    public void theIceBecomesJointsThatShrink() throws Exception {
        acts = 0;
        open(written("river-ice"));
        double size = RestBox.of(now()).diagonal();
        station(Station.CACHES);
        type("#joints-mesh", "ice");
        type("#joints-most", "60");
        act("cache-to-joints");
        type("#shrink-part", "ice");
        type("#shrink-first", "24");
        type("#shrink-last", "72");
        choose("#shrink-order", Shrinking.Order.DISTANCE);
        act("shrink-pieces");
        station(Station.MOTION);
        pickClip("break_up");
        type("#trim-first", "6");
        type("#trim-last", "72");
        act("trim-clip");
        assertThat(clip("break_up").firstFrame()).isZero();
        assertThat(clip("break_up").lastFrame()).isEqualTo(66);
        station(Station.SCALE_AND_AXES);
        choose("#scale-steps-which", org.cleanmarrow.steps.scale.CorrectUnit.class);
        type("#edit-factor", "100");
        act("scale-steps-apply");
        assertThat(RestBox.of(now()).diagonal()).isCloseTo(100 * size, within(size));
        Path out = delivered("glb");
        assertThat(acts).isLessThanOrEqualTo(MOST_ACTS);
        Asset landed = AssetFiles.open(out, Work.QUIET);
        assertThat(landed.skins().getLast().joints()).hasSize(60);
        assertThat(landed.clips().getFirst().channels().stream().filter(c -> c.path() == Channel.Path.SCALE))
                .hasSize(60);
    }
}
