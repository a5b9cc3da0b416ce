package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.demo.ferry.BellChain;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.scale.CorrectUnit;
import org.cleanmarrow.work.Step;
import org.testng.annotations.Test;

/** The source is written anew by whoever made it, while it lies on the desk with work done on it. */
public class NewerSourceTest extends DeskWindow {
    private Path file;

    private void write(Asset asset, int later) throws Exception {
        Files.write(file, GltfWriter.glb(asset));
        Files.setLastModifiedTime(file, FileTime.fromMillis(1_700_000_000_000L + later * 1000L));
    }

    private static Asset called(Map<String, String> names) {
        Asset chain = BellChain.asset();
        return chain.withNodes(chain.nodes().stream()
                .map(n -> n.withName(names.getOrDefault(n.name(), n.name())))
                .toList());
    }

    private void openWithWork() throws Exception {
        file = home.resolve("bell.glb");
        write(BellChain.asset(), 0);
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
        for (Step step :
                List.of(new CorrectUnit(0.5), new Rename(Rename.Kind.NODE, "bell", "great_bell"), new CorrectUnit(2))) {
            on(() -> {
                desk.apply(step);
                return null;
            });
            quiet();
        }
        assertThat(lost()).isZero();
    }

    private long lost() throws Exception {
        List<Replay.Done> done = on(() -> List.copyOf(desk.history().done()));
        return done.stream().filter(d -> d.outcome().isEmpty()).count();
    }

    private boolean offered() throws Exception {
        on(() -> {
            desk.sourceWatch().look();
            return null;
        });
        quiet();
        return on(() -> scene.lookup("#source-newer").isVisible());
    }

    private boolean isThere(String id) throws Exception {
        Node node = on(() -> scene.lookup(id));
        return node != null;
    }

    @Test
    public void itIsOfferedTriedAndTakenWithTheNewNames() throws Exception {
        openWithWork();
        assertThat(offered()).isFalse();
        double high = on(() -> scene.lookup(".top-bar").getBoundsInParent().getHeight());
        write(called(Map.of("bell", "bell_grp")), 60);
        assertThat(offered()).isTrue();
        assertThat(on(() -> scene.lookup(".top-bar").getBoundsInParent().getHeight()))
                .as("nothing moves")
                .isEqualTo(high);
        click("#source-newer");
        quiet();
        assertThat(text("#newer-counts")).startsWith("Parts 4 → 4");
        assertThat(text("#newer-differs")).contains("bell_grp").endsWith("moves as before.");
        assertThat(((CheckBox) on(() -> scene.lookup("#newer-renamed"))).getText())
                .contains("bell → bell_grp");
        assertThat(text("#newer-fit")).startsWith("3 of 3");
        click("#newer-renamed");
        assertThat(text("#newer-fit")).startsWith("2 of 3");
        click("#newer-renamed");
        assertThat(on(() -> desk.now().findNode("bell_grp")))
                .as("nothing is taken yet")
                .isNegative();
        click("#newer-take");
        quiet();
        assertThat(lost()).isZero();
        assertThat(on(() -> desk.received().findNode("bell_grp"))).isNotNegative();
        assertThat(on(() -> desk.now().findNode("great_bell"))).isNotNegative();
        assertThat(on(() -> desk.history().done().get(1).step()))
                .isEqualTo(new Rename(Rename.Kind.NODE, "bell_grp", "great_bell"));
        assertThat(offered()).isFalse();
    }

    @Test
    public void whatDoesNotFitIsSaidAndSwitchedOff() throws Exception {
        openWithWork();
        // A bell that is gone, with nothing that could be it.
        Asset without = called(Map.of());
        int bell = without.findNode("bell");
        BitSet gone = new BitSet();
        gone.set(bell);
        write(without.without(gone), 60);
        assertThat(offered()).isTrue();
        click("#source-newer");
        quiet();
        assertThat(isThere("#newer-renamed")).isFalse();
        assertThat(text("#newer-fit")).startsWith("2 of 3");
        assertThat(text("#newer-differs")).contains("Gone:").contains("bell");
        click("#newer-off");
        click("#newer-take");
        quiet();
        assertThat(on(() -> desk.history().ledger().entries().stream()
                        .map(Ledger.Entry::on)
                        .toList()))
                .containsExactly(true, false, true);
        // The work goes on from there: what was switched off can be switched on again.
        assertThat(on(() -> desk.now().findNode("bell"))).isNegative();
    }

    @Test
    public void leftAloneItIsOfferedAgainOnlyWhenItIsWrittenAgain() throws Exception {
        openWithWork();
        write(called(Map.of()), 60);
        assertThat(offered()).isTrue();
        click("#source-newer");
        quiet();
        hand.push(KeyCode.ESCAPE);
        quiet();
        assertThat(isThere("#newer-sheet")).isFalse();
        assertThat(offered()).isTrue();
        click("#source-newer");
        quiet();
        click("#newer-leave");
        quiet();
        assertThat(offered()).isFalse();
        write(called(Map.of()), 120);
        assertThat(offered()).isTrue();
        // Half a file is said, and everything stays.
        Files.write(file, new byte[] {'g', 'l', 'T', 'F', 2, 0});
        click("#source-newer");
        quiet();
        assertThat(isThere("#newer-sheet")).isFalse();
        assertThat(on(() -> desk.jobs().trouble().get())).isNotNull();
        assertThat(lost()).isZero();
        // One that is gone for a moment is no newer version.
        Files.delete(file);
        on(() -> {
            desk.sourceWatch().dismiss();
            return null;
        });
        quiet();
        assertThat(offered()).isFalse();
    }
}
