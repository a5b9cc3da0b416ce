package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.util.List;
import javafx.scene.Node;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Conversion;
import org.cleanmarrow.desktop.desk.AppFolder;
import org.cleanmarrow.desktop.desk.Preferences;
import org.cleanmarrow.desktop.desk.ViewOptions;
import org.cleanmarrow.desktop.viewport.Camera;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.intake.Rename;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.steps.skeleton.TrimEnds;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.SetWeight;
import org.cleanmarrow.work.VertexSet;
import org.joml.Vector3d;
import org.testng.annotations.Test;

/** What hands do beside the main story: keys, the finder, settings, the ledger's chips, the tour, the view. */
public class HandsTest extends DeskWindow {
    private void inView() throws Exception {
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
    }

    private void find(String text, int down) throws Exception {
        inView();
        hand.push(KeyCode.CONTROL, KeyCode.K);
        quiet();
        hand.write(text);
        quiet();
        for (int i = 0; i < down; i++) {
            hand.push(KeyCode.DOWN);
        }
        hand.push(KeyCode.ENTER);
        quiet();
    }

    @Test
    public void theFinderGoesToJointsFindingsAndActs() throws Exception {
        openDemo();
        find("left_fore", 0);
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("left_forearm");
        find("5 influences", 0);
        assertThat(on(() -> desk.station().get())).isEqualTo(Station.SKIN);
        assertThat(on(() -> desk.selection().chosen().get().vertices().cardinality()))
                .isEqualTo(266);
        find("look from the side", 0);
        assertThat(camera().turn()).isEqualTo(90);
        find("punt", 0);
        assertThat(on(() -> desk.playback().clip().get())).isEqualTo("punt");
        inView();
        hand.push(KeyCode.CONTROL, KeyCode.K);
        hand.write("zzz");
        quiet();
        assertThat(on(() -> ((ListView<?>) scene.lookup("#found")).getItems())).isEmpty();
        hand.push(KeyCode.ESCAPE);
        assertThat(on(() -> scene.lookup("#found"))).isNull();
    }

    /** With smooth edges a picture that rests is followed by a better one; without, the first is the last. */
    @Test
    public void smoothEdgesComeAfterARest() throws Exception {
        openDemo();
        inView();
        hand.push(KeyCode.F1);
        quiet();
        press("#smooth");
        assertThat(on(() -> desk.preferences().smooth().get())).isTrue();
        press("#settings-close");
        quiet();
        int[] soft = seen();
        smooth(false);
        int[] hard = seen();
        assertThat(hard).isNotEqualTo(soft);
        smooth(true);
        assertThat(seen()).isEqualTo(soft);
        smooth(false);
        assertThat(seen()).isEqualTo(hard);
    }

    private void smooth(boolean edges) throws Exception {
        on(() -> {
            desk.preferences().smooth().set(edges);
            return null;
        });
        quiet();
    }

    /** The pixels of the view. */
    private int[] seen() throws Exception {
        return on(() -> {
            WritableImage picture = window.viewport().snapshot(null, null);
            int w = (int) picture.getWidth();
            int h = (int) picture.getHeight();
            int[] out = new int[w * h];
            picture.getPixelReader().getPixels(0, 0, w, h, PixelFormat.getIntArgbInstance(), out, 0, w);
            return out;
        });
    }

    @Test
    public void keysWorkAreChangedAndAreKept() throws Exception {
        openDemo();
        inView();
        hand.push(KeyCode.W);
        assertThat(on(() -> desk.seeing().wire().get())).isTrue();
        hand.push(KeyCode.DIGIT1);
        assertThat(camera().turn()).isZero();
        hand.push(KeyCode.ALT, KeyCode.DIGIT4);
        assertThat(on(() -> desk.station().get())).isEqualTo(Station.SKIN);
        hand.push(KeyCode.F1);
        quiet();
        press("#key-wire");
        hand.push(KeyCode.G);
        quiet();
        press("#settings-close");
        inView();
        hand.push(KeyCode.G);
        assertThat(on(() -> desk.seeing().wire().get()))
                .as("G is the edges' key now")
                .isFalse();
        assertThat(on(() -> desk.seeing().ghost().get()))
                .as("and no longer the ghost's")
                .isFalse();
        hand.push(KeyCode.W);
        assertThat(on(() -> desk.seeing().wire().get())).isFalse();
        Preferences kept = new Preferences(new AppFolder(home).preferences());
        assertThat(kept.keys()).containsEntry("wire", "G").containsEntry("ghost", "");
    }

    @Test
    public void lookSizeAndUnitAreKeptAndABrokenFileIsNoTrouble() throws Exception {
        openDemo();
        hand.push(KeyCode.F1);
        quiet();
        press("#dark");
        choose("#scale", 1.5);
        choose("#unit", "ft");
        quiet();
        // Half as large again: what was 296 wide takes 444 of the window.
        Node deliver = find("#to-delivery");
        assertThat(on(() -> deliver.localToScene(deliver.getBoundsInLocal()).getMaxX()))
                .isLessThanOrEqualTo(scene.getWidth());
        assertThat(on(() -> deliver.localToScene(deliver.getBoundsInLocal()).getHeight()
                        / deliver.getBoundsInLocal().getHeight()))
                .isEqualTo(1.5);
        Preferences kept = new Preferences(new AppFolder(home).preferences());
        assertThat(kept.dark().get()).isTrue();
        assertThat(kept.scale().get()).isEqualTo(1.5);
        // 1.8288 m are six feet: NIST Special Publication 811, appendix B.8.
        assertThat(kept.say(1.8288)).isEqualTo("6 ft 0.0 in");
        Files.writeString(new AppFolder(home).preferences(), "scale=wide\nunit=cubit\n");
        assertThat(new Preferences(new AppFolder(home).preferences()).scale().get())
                .isEqualTo(1);
    }

    @Test
    public void aStepsParametersAreChangedAndTheLedgerRunsAgain() throws Exception {
        openDemo();
        apply(new LimitInfluences("", 4, 0));
        apply(new AddRoot("root"));
        Node chip = find("#chip-1");
        on(() -> {
            chip.requestFocus();
            return null;
        });
        hand.push(KeyCode.ALT, KeyCode.ENTER);
        quiet();
        hand.push(KeyCode.ENTER);
        quiet();
        type("#edit-most", "many");
        press("#editor-apply");
        quiet();
        assertThat(find("#step-editor")).as("it says what is wrong and stays").isNotNull();
        type("#edit-most", "2");
        press("#editor-apply");
        quiet();
        Asset now = on(() -> desk.now());
        assertThat(now.meshes().getFirst().primitives().getFirst().influences().longestRow())
                .isEqualTo(2);
        assertThat(on(() -> desk.history().ledger().entries().getFirst().step()))
                .isEqualTo(new LimitInfluences("", 2, 0));
        inView();
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        assertThat(on(() -> desk.now())
                        .meshes()
                        .getFirst()
                        .primitives()
                        .getFirst()
                        .influences()
                        .longestRow())
                .isEqualTo(4);
    }

    @Test
    public void stepsAreReorderedOnlyWhereAllStillFit() throws Exception {
        openDemo();
        apply(new Rename(Rename.Kind.NODE, "neck", "throat"));
        apply(new SetWeight("pilot", "throat", VertexSet.ALL, 0.5));
        apply(new TrimEnds());
        List<Ledger.Entry> before = on(() -> desk.history().ledger().entries());
        on(() -> {
            desk.moveStep(1, 0);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().ledger().entries())).isEqualTo(before);
        assertThat(text("#message")).contains("throat").contains("no longer fit");
        on(() -> {
            desk.moveStep(2, 0);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().ledger().entries().getFirst().step()))
                .isEqualTo(new TrimEnds());
        assertThat(on(() -> desk.history().done()))
                .allSatisfy(d -> assertThat(d.outcome()).isPresent());
    }

    @Test
    public void aFixIsForetoldAndAllAlikeAreFixedTogether() throws Exception {
        openDemo();
        station(Station.SKIN);
        int first = on(() -> desk.findingsAt(Station.SKIN)
                .indexOf(desk.findings().stream()
                        .filter(f -> f.check().equals("leak"))
                        .findFirst()
                        .orElseThrow()));
        reveal(first);
        Node fix = find("#fix-leak-" + first);
        on(() -> {
            fix.requestFocus();
            return null;
        });
        until(
                "the effect is foretold",
                () -> ((Labeled) scene.lookup("#preview")).getText().startsWith("Would do"));
        assertThat(text("#preview")).containsAnyOf("hail", "arms-up");
        assertThat(on(() -> desk.history().done())).isEmpty();
        press("#fix-all-leak-" + first);
        quiet();
        assertThat(on(() -> desk.findings())).noneMatch(f -> f.check().equals("leak"));
        assertThat(on(() -> desk.history().done())).hasSize(2);
        assertThat(text("#message")).contains("2 of 2");
    }

    @Test
    public void theTourGoesOnWhenItsActIsDone() throws Exception {
        click("#welcome-tour");
        quiet();
        assertThat(on(() -> desk.demo().isPresent())).isTrue();
        press("#tour-next");
        quiet();
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("left_upper_arm");
        press("#tour-next");
        quiet();
        press("#take-off");
        quiet();
        assertThat(on(() -> desk.station().get()))
                .as("the next stop is the conversion")
                .isEqualTo(Station.SCALE_AND_AXES);
        press("#convert");
        quiet();
        assertThat(on(() -> desk.station().get())).isEqualTo(Station.DELIVERY);
        press("#tour-end");
        assertThat(on(() -> scene.lookup("#tour"))).isNull();
    }

    @Test
    public void theTapeMeasuresBetweenTwoSpots() throws Exception {
        openDemo();
        inView();
        hand.push(KeyCode.L);
        hand.clickOn(screen(width() / 2, height() / 2 - 60));
        hand.clickOn(screen(width() / 2, height() / 2 + 20));
        ViewOptions.Tape tape = on(() -> desk.seeing().tape().get());
        assertThat(tape.from()).isNotNull().isNotEqualTo(tape.to());
        assertThat(tape.to()).isNotNull();
        // Both ends lie where they were put, and what is said is the distance between them.
        Asset now = on(() -> desk.now());
        Deformer deformer = new Deformer(now);
        Camera camera = camera();
        Vector3d[] ends = new Vector3d[2];
        for (int i = 0; i < 2; i++) {
            ViewOptions.Spot spot = i == 0 ? tape.from() : tape.to();
            float[] at = deformer.positions(
                    deformer.places().stream()
                            .filter(p -> p.mesh() == spot.mesh())
                            .findFirst()
                            .orElseThrow(),
                    new Rig(now).rest());
            Vector3d own = new Vector3d(at[spot.vertex() * 3], at[spot.vertex() * 3 + 1], at[spot.vertex() * 3 + 2]);
            ends[i] = Conversion.between(now.conventions(), Conventions.GLTF)
                    .matrix()
                    .transformPosition(own);
            Vector3d seen = camera.toPicture(ends[i], width(), height());
            assertThat(seen.x).isCloseTo(width() / 2, within(12.0));
            assertThat(seen.y).isCloseTo(height() / 2 + (i == 0 ? -60 : 20), within(12.0));
        }
        assertThat(on(() -> window.viewport().tapeMetres())).isCloseTo(ends[0].distance(ends[1]), within(1e-6));
        assertThat(on(() -> desk.selection().chosen().get().isEmpty()))
                .as("taping chooses nothing")
                .isTrue();
    }

    @Test
    public void withoutPerspectiveAPickStillFindsWhatLiesUnderIt() throws Exception {
        openDemo();
        inView();
        hand.push(KeyCode.P);
        hand.push(KeyCode.DIGIT3);
        quiet();
        assertThat(camera().parallel()).isTrue();
        assertThat(camera().tilt()).isEqualTo(90);
        station(Station.SKIN);
        on(() -> {
            desk.seeing().joints().set(false);
            return null;
        });
        // From straight above, the middle of the figure is the hat.
        var all = new java.util.BitSet();
        all.set(0, on(() -> desk.now().meshes().getFirst().vertexCount()));
        hand.clickOn(pointOn(0, all));
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().isEmpty())).isFalse();
    }

    /** A long ledger shows its latest steps, at the right end, and the earlier ones when they are asked for. */
    @Test
    public void aLongLedgerKeepsItsLatestStepsInSight() throws Exception {
        openDemo();
        java.util.BitSet few = new java.util.BitSet();
        few.set(0, 5);
        for (int i = 0; i < 34; i++) {
            double weight = i / 40.0;
            on(() -> {
                desk.apply(new SetWeight("pilot", "head", VertexSet.numbers(few), weight));
                return null;
            });
        }
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(34);
        assertThat(on(() -> scene.lookup("#chip-1"))).isNull();
        Node last = find("#chip-34");
        Node undo = find("#undo");
        pulses(5);
        double end = on(() -> last.localToScene(last.getBoundsInLocal()).getMaxX());
        assertThat(end)
                .as("the last chip is not cut")
                .isLessThanOrEqualTo(
                        on(() -> undo.localToScene(undo.getBoundsInLocal()).getMinX()));
        on(() -> {
            scene.getRoot().lookupAll(".chip").stream()
                    .map(n -> (javafx.scene.control.Button) n)
                    .filter(b -> b.getText().startsWith("4 earlier"))
                    .findFirst()
                    .orElseThrow()
                    .fire();
            return null;
        });
        quiet();
        assertThat(find("#chip-1")).isNotNull();
    }
}
