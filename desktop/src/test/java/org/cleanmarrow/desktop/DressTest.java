package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.scene.control.Button;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.ContextMenuEvent;
import javafx.scene.input.PickResult;
import javafx.stage.PopupWindow;
import javafx.stage.Window;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.demo.ferry.DeckBoots;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.examination.Severity;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.skin.Dress;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Boots that came from somewhere else, from their file to a delivery. */
public class DressTest extends DeskWindow {
    private int acts;

    /** One thing done by the person at the desk, with what was typed for it. */
    private void act(String button) throws Exception {
        press(button);
        quiet();
        acts++;
    }

    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    private void menu(String chip, String item) throws Exception {
        Button button = (Button) find(chip);
        on(() -> {
            button.fireEvent(new ContextMenuEvent(
                    ContextMenuEvent.CONTEXT_MENU_REQUESTED, 5, 5, 5, 5, false, new PickResult(button, 5, 5)));
            ContextMenu open = Window.getWindows().stream()
                    .filter(w -> w instanceof ContextMenu && w.isShowing())
                    .map(ContextMenu.class::cast)
                    .findFirst()
                    .orElseThrow();
            MenuItem chosen = open.getItems().stream()
                    .filter(i -> i.getText().equals(item))
                    .findFirst()
                    .orElseThrow();
            assertThat(chosen.isDisable()).as(item).isFalse();
            chosen.fire();
            ((PopupWindow) open).hide();
            return null;
        });
        quiet();
    }

    @Test
    public void bootsGoFromTheirFileToADeliveryInTwelveActs() throws Exception {
        // Trial poses alone, and boots of fewer triangles than the demo's, are enough to be dressed for.
        Asset standing = Demo.named("vested-pilot").orElseThrow().asset().get().withClips(List.of());
        Path pilot = Files.write(home.resolve("vested-pilot.glb"), GltfWriter.glb(standing));
        Path boots = Files.write(home.resolve("deck-boots.obj"), DeckBoots.obj(0.009));
        on(() -> {
            desk.files().open(List.of(pilot, boots));
            return null;
        });
        quiet();
        acts++;
        station(Station.SCALE_AND_AXES);
        choose("#place-part", "deck_boot_left");
        press("#turn-z");
        type("#turn-degrees", "90");
        act("#turn-fold");
        choose("#mirror-which", "deck_boot_left");
        act("#mirror-part");
        station(Station.SKIN);
        TextField worn = (TextField) find("#dress-worn");
        assertThat(on(worn::getPromptText)).isEqualTo("float_vest, deck_boot_left, deck_boot_right");
        // The body is found; the vest would take as long again.
        type("#dress-worn", "deck_boot_*");
        type("#dress-hard", "brass");
        act("#dress");
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(Dress.class);
        assertThat(text("#message")).contains("rigid", "left-foot", "right-foot");
        Asset dressed = now();
        assertThat(on(() -> ((TextField) scene.lookup("#dress-body")).getPromptText()))
                .as("whatever is finer")
                .isEqualTo("pilot");
        assertThat(dressed.meshes().stream().filter(m -> !m.skinned()).map(m -> m.name()))
                .containsExactly("lantern", "float_vest");
        station(Station.DELIVERY);
        press("#mend-all");
        quiet();
        act("#mend-do");
        assertThat(on(() -> desk.findings().stream()
                        .filter(f -> f.severity() == Severity.BLOCKER)
                        .map(f -> f.message().toString())
                        .toList()))
                .isEmpty();
        type("#delivery-folder", home.resolve("out").toString());
        act("#deliver");
        assertThat(text("#delivery-verdict")).contains("as it was meant to");
        System.out.println("boots: " + acts + " acts");
        assertThat(acts).isLessThanOrEqualTo(12);
        Asset delivered = AssetFiles.open(home.resolve("out/vested-pilot_v001.glb"), Work.QUIET);
        assertThat(delivered.findNode("deck_boot_right")).isNotNegative();

        // Tried in poses, the worst place first.
        station(Station.SKIN);
        press("#trial-find");
        quiet();
        TableView<?> worst = (TableView<?>) find("#worst-places");
        assertThat(on(() -> worst.getItems().size())).isGreaterThan(20);
        assertThat(text("#trial-what")).contains("%");
        on(() -> {
            worst.getSelectionModel().select(0);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.playback().trial().get())).isNotNull();
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.STRAIN);
        assertThat(on(() -> desk.selection().chosen().get().isEmpty())).isFalse();
        press("#dual-quaternions");
        assertThat(on(() -> desk.seeing().dual().get())).isTrue();
        quiet();
        press("#relaxed");
        assertThat(on(() -> desk.seeing().relaxed().get())).isTrue();
        quiet();
        press("#trial-rest");
        assertThat(on(() -> desk.playback().trial().get())).isNull();
        assertThat(on(() -> desk.playedClip())).isEmpty();
    }

    @Test
    public void whatWasDoneInOneGoIsOpenedIntoItsSteps() throws Exception {
        on(() -> {
            desk.files().openDemo(Demo.pilot());
            return null;
        });
        quiet();
        station(Station.SKIN);
        type("#dress-body", "pilot");
        type("#dress-worn", "nothing of that name");
        press("#dress");
        quiet();
        assertThat(text("#message")).contains("nothing of that name");
        type("#dress-worn", "lantern");
        press("#dress");
        quiet();
        Asset before = now();
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(Dress.class);
        menu("#chip-1", "Open into its steps");
        assertThat(on(() ->
                        desk.history().done().stream().map(Replay.Done::step).toList()))
                .isNotEmpty()
                .noneMatch(Dress.class::isInstance)
                .first()
                .isInstanceOf(TransferWeights.class);
        assertThat(MotionProbe.compare(before, now(), Work.QUIET).largestMetres())
                .isZero();
        press("#undo");
        quiet();
        assertThat(on(() -> desk.history().done().getLast().step())).isInstanceOf(Dress.class);
    }
}
