package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.TableView;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.measure.PokeThrough;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.MendPokeThrough;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** The pilot's shoulders come out of the cape: found, shown moment by moment, and mended by hand. */
public class ThroughTest extends DeskWindow {
    private int rows() throws Exception {
        return on(() -> ((TableView<?>) scene.lookup("#through")).getItems().size());
    }

    private static long places(List<PokeThrough> found) {
        return found.stream()
                .flatMap(p -> p.moments().stream())
                .mapToLong(m -> m.vertices().cardinality())
                .sum();
    }

    @Test
    public void whatShowsThroughIsListedShownAndMended() throws Exception {
        // Trial poses alone, which are enough to be looked at.
        Asset pilot = Demo.pilot().asset().get().withClips(List.of());
        Path file = Files.write(home.resolve("pilot.glb"), GltfWriter.glb(pilot));
        on(() -> {
            desk.files().open(file);
            desk.station().set(Station.SKIN);
            return null;
        });
        quiet();
        press("#through-mend");
        assertThat(text("#through-preview")).contains("Look first");
        press("#through-look");
        quiet();
        Asset asset = on(() -> desk.now());
        List<PokeThrough> all = PokeThrough.all(asset, 8, Work.QUIET);
        int moments = all.stream().mapToInt(p -> p.moments().size()).sum();
        assertThat(rows()).isEqualTo(moments).isPositive();
        assertThat(text("#through-what")).contains("pilot through cape");
        PokeThrough.Moment deepest = all.getFirst().moments().getFirst();
        on(() -> {
            ((TableView<?>) scene.lookup("#through")).getSelectionModel().select(0);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().vertices())).isEqualTo(deepest.vertices());
        assertThat(on(() -> desk.playback().trial().get()))
                .isEqualTo(deepest.pose().orElseThrow());
        type("#through-most", "no");
        press("#through-mend");
        assertThat(text("#through-preview")).contains("expected millimetres");
        type("#through-most", "15");
        choose("#through-way", MendPokeThrough.Way.BOTH);
        press("#through-mend");
        quiet();
        assertThat(on(() -> desk.history().ledger().entries().getLast().step()))
                .isEqualTo(new MendPokeThrough("pilot", "cape", MendPokeThrough.Way.BOTH, 15, 8));
        assertThat(on(() -> desk.history().done().getLast().outcome())).isPresent();
        // Looked at anew by itself.
        List<PokeThrough> left = PokeThrough.all(on(() -> desk.now()), 8, Work.QUIET);
        assertThat(rows())
                .isEqualTo(left.stream().mapToInt(p -> p.moments().size()).sum());
        assertThat(places(left)).isLessThan(places(all) * 2 / 3);
    }
}
