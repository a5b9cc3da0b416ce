package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import javafx.application.Platform;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.scene.paint.Color;
import javafx.stage.Window;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.desktop.widgets.Tips;
import org.cleanmarrow.examination.Finding;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.scale.FreezeNodes;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.NormaliseWeights;
import org.cleanmarrow.work.Step;
import org.testng.annotations.Test;

/** What the desk does with files, the ledger, time and the view. */
public class DeskTest extends DeskWindow {
    private Path pilotFile() throws Exception {
        Path file = home.resolve("pilot.glb");
        Files.write(file, GltfWriter.glb(FerryPilot.asset()));
        return file;
    }

    private void open(Path file) throws Exception {
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
    }

    @Test
    public void aBrokenFileIsSaidAndLeavesTheDeskAsItWas() throws Exception {
        openDemo();
        apply(new AddRoot("root"));
        Asset before = on(() -> desk.now());
        byte[] good = Files.readAllBytes(pilotFile());
        Path broken = home.resolve("broken.glb");
        Files.write(broken, java.util.Arrays.copyOf(good, good.length / 2));
        open(broken);
        assertThat(on(() -> desk.now())).isSameAs(before);
        assertThat(on(() -> desk.history().done())).hasSize(1);
        assertThat(text("#message")).startsWith("broken.glb").contains("cut off");
        assertThat(find("#message").getStyleClass()).contains("trouble");
    }

    @Test
    public void openedFilesAreRememberedAndTheNewestComesFirst() throws Exception {
        Path first = pilotFile();
        open(first);
        Path second = home.resolve("other.glb");
        Files.copy(first, second);
        open(second);
        open(first);
        assertThat(new AppFolder(home).recent()).containsExactly(first.toAbsolutePath(), second.toAbsolutePath());
        Files.delete(second);
        assertThat(new AppFolder(home).recent()).containsExactly(first.toAbsolutePath());
        assertThat(text("#asset-name")).isEqualTo("pilot");
    }

    @Test
    public void workIsSavedWhileItIsDoneAndForgottenWhenItIsUndone() throws Exception {
        openDemo();
        assertThat(recoveryFiles()).isEmpty();
        apply(new AddRoot("root"));
        assertThat(recoveryFiles()).hasSize(1);
        assertThat(Files.readString(recoveryFiles().getFirst())).contains("add-root");
        on(() -> {
            desk.undo();
            return null;
        });
        quiet();
        assertThat(recoveryFiles()).isEmpty();
    }

    private List<Path> recoveryFiles() throws Exception {
        try (Stream<Path> files = Files.list(home)) {
            return files.filter(f -> f.getFileName().toString().startsWith("work-"))
                    .toList();
        }
    }

    /** Findings name places in what they were found in: none of them is shown on what is opened in its place, nor taken for clean. */
    @Test
    public void whatIsOpenedIsNotCleanBeforeItIsExamined() throws Exception {
        openDemo();
        Finding leak = finding("leak");
        Label spine = (Label) on(() -> scene.lookup("#station-skin .count"));
        assertThat(on(spine::getText)).isNotEmpty();
        List<Object> meanwhile = new ArrayList<>();
        on(() -> {
            desk.asset().addListener((o, a, b) -> {
                if (b != null && meanwhile.isEmpty()) {
                    meanwhile.add(desk.wasExamined());
                    meanwhile.add(desk.findings());
                    desk.show(leak);
                    meanwhile.add(desk.shown().get() == leak);
                    meanwhile.add(desk.jobs().message().get().contains("earlier state"));
                    // Behind what follows every change, and before what the checks find.
                    Platform.runLater(() -> meanwhile.add(spine.getText()));
                }
            });
            desk.files().openDemo("deck-boots");
            return null;
        });
        quiet();
        assertThat(meanwhile).containsExactly(false, List.of(), false, true, "");
        assertThat(on(() -> desk.isExamined())).isTrue();
        assertThat(on(spine::getText)).isNotEmpty();
    }

    @Test
    public void aDemoAssetThatIsNotThereIsSaidToBeSo() throws Exception {
        on(() -> {
            desk.files().openDemo("heron");
            return null;
        });
        quiet();
        assertThat(on(() -> desk.isOpen())).isFalse();
        assertThat(text("#message")).contains("\"heron\"").contains("marsh-heron");
        on(() -> {
            desk.files().openDemo("marsh-heron");
            return null;
        });
        quiet();
        assertThat(on(() -> desk.now().name())).isEqualTo("marsh-heron");
    }

    @Test
    public void aRefusedStepChangesNothingAndSaysWhy() throws Exception {
        openDemo();
        apply(new Rename(Rename.Kind.NODE, "hips", "head"));
        assertThat(on(() -> desk.history().done())).isEmpty();
        assertThat(text("#message")).contains("head").contains("taken");
    }

    @Test
    public void chipsLookBackSwitchOffAndShowWhatNoLongerFits() throws Exception {
        openDemo();
        apply(new Rename(Rename.Kind.NODE, "head_end", "crown"));
        apply(new Rename(Rename.Kind.NODE, "crown", "summit"));
        apply(new AddRoot("root"));
        click("#chip-1");
        quiet();
        assertThat(on(() -> desk.now().findNode("crown"))).isNotNegative();
        assertThat(on(() -> desk.looking())).isEqualTo(1);
        click("#chip-3");
        quiet();
        assertThat(on(() -> desk.now().findNode("summit"))).isNotNegative();
        on(() -> {
            desk.switchStep(0, false);
            return null;
        });
        quiet();
        assertThat(find("#chip-1").getStyleClass()).contains("off");
        assertThat(find("#chip-2").getStyleClass()).contains("caution");
        assertThat(Tips.of(find("#chip-2"))).contains("crown");
        assertThat(on(() -> AddRoot.hasCleanRoot(desk.now())))
                .as("the rest runs")
                .isTrue();
        on(() -> {
            desk.undo();
            return null;
        });
        quiet();
        assertThat(on(() -> desk.now().findNode("summit"))).isNotNegative();
    }

    @Test
    public void aSavedLedgerRunsAgain() throws Exception {
        openDemo();
        apply(new AddRoot("root"));
        apply(new TrimEnds());
        Path file = home.resolve("work.ledger.json");
        on(() -> {
            desk.files().saveLedger(file);
            return null;
        });
        quiet();
        assertThat(Ledger.parse(Files.readString(file)).entries()).hasSize(2);
        open(pilotFile());
        on(() -> {
            desk.files().loadLedger(file);
            return null;
        });
        quiet();
        assertThat(on(() -> AddRoot.hasCleanRoot(desk.now()))).isTrue();
        Files.writeString(file, "{\"ledger\": 1, \"steps\": [{\"step\": \"dance\"}]}");
        on(() -> {
            desk.files().loadLedger(file);
            return null;
        });
        quiet();
        assertThat(text("#message")).contains("dance");
        assertThat(on(() -> desk.history().done())).hasSize(2);
    }

    @Test
    public void anotherTargetIsCheckedAgainst() throws Exception {
        openDemo();
        assertThat(finding("axes").message().toString()).contains("left-handed");
        choose("#target", Target.named("y-up-m-rh").orElseThrow());
        quiet();
        assertThat(finding("axes").message().toString()).contains("wanted y").doesNotContain("left-handed");
    }

    @Test
    public void timePlaysStepsAndScrubs() throws Exception {
        openDemo();
        on(() -> {
            desk.playback().clip().set("hail");
            window.viewport().requestFocus();
            return null;
        });
        hand.push(KeyCode.PERIOD);
        hand.push(KeyCode.PERIOD);
        assertThat(on(() -> desk.playback().seconds().get() * 24)).isBetween(1.99, 2.01);
        hand.push(KeyCode.COMMA);
        assertThat(text("#time-what")).contains("1 of 0..47").contains("24/s");
        hand.push(KeyCode.SPACE);
        double before = on(() -> desk.playback().seconds().get());
        until("it plays on", () -> Math.abs(desk.playback().seconds().get() - before) > 0.1);
        assertThat(on(() -> desk.playback().playing().get())).isTrue();
        hand.push(KeyCode.SPACE);
        double stopped = on(() -> desk.playback().seconds().get());
        pulses(5);
        assertThat(on(() -> desk.playback().seconds().get())).isEqualTo(stopped);
    }

    private WritableImage picture() throws Exception {
        quiet();
        pulses(5);
        quiet();
        return on(() -> window.viewport().snapshot(null, null));
    }

    private static double difference(WritableImage a, WritableImage b, int x0, int x1) {
        double sum = 0;
        int count = 0;
        for (int y = 60; y < a.getHeight() - 80; y += 3) {
            for (int x = x0; x < x1; x += 3) {
                Color p = a.getPixelReader().getColor(x, y);
                Color q = b.getPixelReader().getColor(x, y);
                sum += Math.abs(p.getRed() - q.getRed())
                        + Math.abs(p.getGreen() - q.getGreen())
                        + Math.abs(p.getBlue() - q.getBlue());
                count++;
            }
        }
        return sum / count;
    }

    @Test
    public void thePictureFollowsPaintPoseAndCamera() throws Exception {
        openDemo();
        WritableImage colours = picture();
        int w = (int) colours.getWidth();
        on(() -> {
            desk.seeing().paint().set(ShadingMode.CLAY);
            return null;
        });
        WritableImage clay = picture();
        assertThat(difference(colours, clay, 0, w)).isGreaterThan(0.005);
        on(() -> {
            desk.seeing().paint().set(ShadingMode.INFLUENCE);
            desk.selection().joint().set("head");
            return null;
        });
        WritableImage head = picture();
        assertThat(difference(clay, head, 0, w)).isGreaterThan(0.001);
        on(() -> {
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(1);
            return null;
        });
        assertThat(difference(head, picture(), 0, w)).isGreaterThan(0.003);
        // Right-drag orbits, the wheel comes nearer.
        double turn = camera().turn();
        double reach = camera().reach();
        var middle = screen(width() / 2, height() / 2);
        double tilt = camera().tilt();
        WritableImage straight = picture();
        hand.moveTo(middle).press(MouseButton.SECONDARY).moveBy(80, 0).release(MouseButton.SECONDARY);
        // 0.4 degrees a pixel, as far as it was dragged, and not tilted.
        assertThat(camera().turn()).isCloseTo(turn - 32, within(1e-6));
        assertThat(camera().tilt()).isEqualTo(tilt);
        assertThat(difference(straight, picture(), 0, w)).isGreaterThan(0.01);
        hand.moveTo(middle).scroll(5, javafx.geometry.VerticalDirection.UP);
        assertThat(camera().reach()).isLessThan(0.9 * reach);
    }

    @Test
    public void receivedStandsBesideNowAndTheDividerIsDragged() throws Exception {
        openDemo();
        on(() -> {
            desk.seeing().joints().set(false);
            return null;
        });
        WritableImage before = picture();
        int w = (int) before.getWidth();
        apply(new FreezeNodes());
        apply(new org.cleanmarrow.steps.skin.AssignUnweighted("", java.util.Optional.empty()));
        apply(new org.cleanmarrow.steps.skin.SetWeight("pilot", "left_hand", org.cleanmarrow.work.VertexSet.ALL, 1));
        on(() -> {
            desk.playback().clip().set("hail");
            desk.playback().seconds().set(1);
            return null;
        });
        click("#view-received");
        assertThat(on(() -> desk.seeing().divider().get())).isEqualTo(0.5);
        WritableImage split = picture();
        var handle = screen(width() / 2, height() / 3);
        hand.drag(handle, screen(width() - 40, height() / 3));
        assertThat(on(() -> desk.seeing().divider().get())).isGreaterThan(0.9);
        WritableImage received = picture();
        // Left of the middle both show what was received; right of it they differ.
        assertThat(difference(split, received, 0, w / 2 - 30)).isLessThan(0.01);
        assertThat(difference(split, received, w / 2 + 30, w - 200)).isGreaterThan(0.02);
    }

    @Test
    public void everythingCanBeReachedAndNamed() throws Exception {
        openDemo();
        for (Station station : List.of(
                Station.INTAKE,
                Station.SCALE_AND_AXES,
                Station.SKELETON,
                Station.SKIN,
                Station.MOTION,
                Station.DELIVERY)) {
            station(station);
            on(() -> {
                for (Node node : scene.getRoot().lookupAll(".button")) {
                    Button button = node instanceof Button b ? b : null;
                    if (button == null || !isShown(button)) {
                        continue;
                    }
                    boolean named =
                            button.getText() != null && !button.getText().isBlank()
                                    || button.getAccessibleText() != null;
                    assertThat(named).as("%s in %s", button, station).isTrue();
                    assertThat(button.getWidth())
                            .as("%s is not cut in %s", button.getText(), station)
                            .isGreaterThanOrEqualTo(Math.floor(button.prefWidth(-1)) - 1);
                }
                return null;
            });
        }
        // Where the pointer rests it is said what a button does, and with which key.
        Node joints = find("#view-joints");
        hand.moveTo(on(() -> joints.localToScreen(4, 4)));
        hand.moveTo(on(() -> joints.localToScreen(9, 9)));
        List<String> shown = new ArrayList<>();
        until("a tooltip comes", () -> {
            Window.getWindows().stream()
                    .filter(w -> w instanceof Tooltip)
                    .forEach(w -> shown.add(((Tooltip) w).getText()));
            return !shown.isEmpty();
        });
        assertThat(shown).containsExactly(Tips.of(joints)).allMatch(text -> text.endsWith("  J"));
    }

    /** Asked of one thing, of another, and of the first again before what was left of the first is back: it is found all the same. */
    @Test
    public void whatIsAskedForAgainIsFound() throws Exception {
        CountDownLatch hold = new CountDownLatch(1);
        CountDownLatch ran = new CountDownLatch(1);
        Object one = new Object();
        on(() -> {
            desk.facts().of("held", one, w -> awaited(hold));
            desk.facts().of("thing", one, w -> "one");
            desk.facts().of("thing", new Object(), w -> "other");
            desk.facts().of("ran", one, w -> {
                ran.countDown();
                return "";
            });
            hold.countDown();
            awaited(ran);
            return desk.facts().of("thing", one, w -> "one");
        });
        quiet();
        assertThat(on(() -> desk.facts().of("thing", one, w -> "too late"))).contains("one");
    }

    private static String awaited(CountDownLatch latch) {
        try {
            assertThat(latch.await(PATIENCE_SECONDS, TimeUnit.SECONDS)).isTrue();
        } catch (InterruptedException e) {
            throw new AssertionError(e);
        }
        return "";
    }

    private static boolean isShown(Node node) {
        for (Node up = node; up != null; up = up.getParent()) {
            if (!up.isVisible()) {
                return false;
            }
        }
        return true;
    }

    /** What was foretold is what is done, the very same, and findings of an asset that comes back are those it had. */
    @Test
    public void nothingIsFoundOutTwice() throws Exception {
        openDemo();
        Step step = new LimitInfluences("", 4, 0.01);
        AtomicReference<Replay.Done> foretold = new AtomicReference<>();
        on(() -> {
            desk.foreteller().preview(step, foretold::set);
            return null;
        });
        quiet();
        List<Finding> before = on(() -> desk.findings());
        on(() -> {
            desk.apply(new LimitInfluences("", 4, 0.01));
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done().getLast())).isSameAs(foretold.get());
        assertThat(foretold.get().motion()).isPresent();
        assertThat(on(() -> desk.findings())).isNotEqualTo(before);
        press("#undo");
        quiet();
        assertThat(on(() -> desk.findings())).isSameAs(before);
        // On another asset the same step is another matter.
        on(() -> {
            desk.apply(new NormaliseWeights(""));
            desk.apply(step);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done().getLast())).isNotSameAs(foretold.get());
    }
}
