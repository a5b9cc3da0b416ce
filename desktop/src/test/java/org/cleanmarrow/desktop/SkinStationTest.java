package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import org.cleanmarrow.desktop.desk.ShadingMode;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.ledger.Ledger;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.roles.BodyRegion;
import org.cleanmarrow.steps.skin.AverageAcross;
import org.cleanmarrow.steps.skin.BindVolume;
import org.cleanmarrow.steps.skin.CopyWeights;
import org.cleanmarrow.steps.skin.LimitInfluences;
import org.cleanmarrow.steps.skin.MirrorWeights;
import org.cleanmarrow.steps.skin.PaintWeights;
import org.cleanmarrow.steps.skin.SmoothWeights;
import org.cleanmarrow.steps.skin.TransferWeights;
import org.cleanmarrow.surface.MeshTopology;
import org.cleanmarrow.trial.TrialPose;
import org.cleanmarrow.weights.RegionMarks;
import org.cleanmarrow.weights.Stroke;
import org.testng.annotations.Test;

/** The skin's station by mouse and keyboard: painting, evening out, binding, transfer, sides, trial poses. */
public class SkinStationTest extends DeskWindow {
    private Asset now() throws Exception {
        return on(() -> desk.now());
    }

    private Object last() throws Exception {
        return on(() -> desk.history().done().getLast().step());
    }

    private Influences rows(Asset asset, String mesh) {
        return asset.meshes().get(asset.findMesh(mesh)).primitives().getFirst().influences();
    }

    private int number(Asset asset, String mesh, String joint) {
        Skin skin = asset.skins().get(asset.skinOfMesh(asset.findMesh(mesh)));
        return skin.indexOfNode(asset.findNode(joint));
    }

    private void joint(String name) throws Exception {
        on(() -> {
            desk.selection().joint().set(name);
            return null;
        });
    }

    private void choose(String mesh, BitSet vertices) throws Exception {
        on(() -> {
            desk.selection().choose(desk.now().findMesh(mesh), vertices);
            return null;
        });
        quiet();
    }

    private void demo(String name) throws Exception {
        click("#demo-" + name);
        quiet();
        station(Station.SKIN);
    }

    /** A drag of the brush over the middle of the picture's figure, seen half way too. */
    private Asset stroke(Point2D from, Point2D to) throws Exception {
        hand.moveTo(from);
        hand.press(MouseButton.PRIMARY);
        hand.moveTo(from.midpoint(to));
        hand.moveTo(to);
        Asset meanwhile = now();
        hand.release(MouseButton.PRIMARY);
        quiet();
        return meanwhile;
    }

    @Test
    public void aStrokeIsOneStepKeepsSumsAndLocksAndIsUndoneExactly() throws Exception {
        openDemo();
        station(Station.SKIN);
        joint("ribs_upper");
        choose("#brush-mode", Stroke.Mode.ADD);
        press("#drag-paint");
        type("#brush-strength", "0.5");
        Asset before = now();
        BitSet jumper = MeshTopology.of(before.meshes().getFirst()).islandsOf(one(0));
        Point2D at = pointOn(0, jumper);
        Asset meanwhile = stroke(at, at.add(30, 14));
        assertThat(meanwhile)
                .as("nothing is recorded while the stroke is drawn")
                .isSameAs(before);
        assertThat(last()).isInstanceOf(PaintWeights.class);
        assertThat(on(() -> desk.history().done())).hasSize(1);
        Asset after = now();
        int ribs = number(after, "pilot", "ribs_upper");
        Influences was = rows(before, "pilot");
        Influences is = rows(after, "pilot");
        int heavier = 0;
        int changed = 0;
        for (int v = 0; v < is.vertexCount(); v++) {
            if (!is.sameRow(was, v)) {
                changed++;
                heavier += is.weight(v, ribs) >= was.weight(v, ribs) ? 1 : 0;
                assertThat(is.sum(v)).isCloseTo(1, within(2e-6));
            }
        }
        assertThat(changed).isBetween(4, 2000);
        assertThat(heavier).isEqualTo(changed);
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        assertThat(now()).isSameAs(before);

        // The same over a joint that is locked: its weights stay to the bit.
        joint("ribs_lower");
        press("#lock-joint");
        assertThat(on(() -> desk.selection().lockedJoints())).isEqualTo("ribs_lower");
        joint("ribs_upper");
        stroke(at, at.add(30, 14));
        int locked = number(before, "pilot", "ribs_lower");
        Influences held = rows(now(), "pilot");
        assertThat(now()).isNotSameAs(before);
        for (int v = 0; v < held.vertexCount(); v++) {
            if (!held.sameRow(was, v)) {
                assertThat(held.weight(v, locked)).isEqualTo(was.weight(v, locked));
            }
        }
        // A locked joint cannot be painted, and says so.
        joint("ribs_lower");
        int steps = on(() -> desk.history().done().size());
        stroke(at, at.add(20, 5));
        assertThat(on(() -> desk.history().done())).hasSize(steps);
        assertThat(on(() -> desk.jobs().message().get())).contains("not locked");
        // Smoothing needs no joint.
        choose("#brush-mode", Stroke.Mode.SMOOTH);
        joint("");
        stroke(at, at.add(20, 5));
        assertThat(((PaintWeights) last()).mode()).isEqualTo(Stroke.Mode.SMOOTH);
    }

    private static BitSet one(int vertex) {
        BitSet out = new BitSet();
        out.set(vertex);
        return out;
    }

    @Test
    public void aStrapIsEvenedOutAndCopiedAndTheTableShowsIt() throws Exception {
        openDemo();
        station(Station.SKIN);
        press("#smooth");
        assertThat(text("#even-preview")).contains("Select vertices first");
        BitSet strap = MeshTopology.of(now().meshes().getFirst())
                .islandsOf(finding("leak").place().vertices());
        choose("pilot", strap);
        TableView<?> table = (TableView<?>) find("#weight-table");
        assertThat(on(() -> table.getItems().size())).isEqualTo(412);
        press("#smooth");
        quiet();
        assertThat(last()).isInstanceOf(SmoothWeights.class);
        press("#even-along");
        quiet();
        assertThat(last()).isInstanceOf(AverageAcross.class);
        press("#average");
        quiet();
        assertThat(last()).isInstanceOf(CopyWeights.class);
        Influences rows = rows(now(), "pilot");
        int first = strap.nextSetBit(0);
        strap.stream().forEach(v -> assertThat(rows.rowLength(v)).isEqualTo(rows.rowLength(first)));
        press("#copy-from");
        choose("pilot", one(3));
        press("#copy-to");
        quiet();
        assertThat(rows(now(), "pilot").rowLength(3)).isEqualTo(rows.rowLength(first));
        joint("waist");
        type("#amount", "0.25");
        float before = rows(now(), "pilot").weight(3, number(now(), "pilot", "waist"));
        press("#add-weight");
        quiet();
        assertThat(rows(now(), "pilot").weight(3, number(now(), "pilot", "waist")))
                .isCloseTo(before + 0.25f, within(1e-5f));
        type("#amount", "a lot");
        press("#less-weight");
        assertThat(text("#adjust-preview")).contains("a lot");
    }

    /** In fewer than ten acts: a part, its joints, bound, tried, and back at rest. */
    @Test
    public void theCapeIsBoundByItself() throws Exception {
        openDemo();
        station(Station.SKIN);
        choose("#bind-part", "cape");
        type("#bind-joints", "cape_*, ribs_upper, neck");
        press("#bind-volume");
        quiet();
        assertThat(last()).isInstanceOf(BindVolume.class);
        Asset bound = now();
        Influences rows = rows(bound, "cape");
        Skin skin = bound.skins().get(bound.skinOfMesh(bound.findMesh("cape")));
        for (int v = 0; v < rows.vertexCount(); v++) {
            assertThat(rows.sum(v)).isCloseTo(1, within(2e-6));
            for (int i = rows.offsets()[v]; i < rows.offsets()[v + 1]; i++) {
                assertThat(bound.nodes().get(skin.joints()[rows.joints()[i]]).name())
                        .matches("cape_[1-3]|ribs_upper|neck");
            }
        }
        assertThat(on(() -> desk.findings().stream().noneMatch(f -> f.check().equals("strays"))))
                .as("the hem follows the cape now")
                .isTrue();
        type("#bind-softness", "3");
        press("#bind-volume");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("Softness goes from 0 to 1");
    }

    @Test
    public void theCapeTakesTheBodysWeights() throws Exception {
        openDemo();
        station(Station.SKIN);
        choose("#bind-part", "cape");
        type("#bind-joints", "*");
        type("#transfer-from", "pilot");
        // Tried first: the slider shows what each place comes to, and what is done then is that to the last bit.
        press("#transfer-try");
        quiet();
        String middle = text("#transfer-tried");
        assertThat(middle).contains("% of edges");
        slide(KeyCode.HOME);
        Asset even = on(() -> desk.seeing().tried().get());
        assertThat(text("#transfer-tried")).isNotEqualTo(middle);
        assertThat(even).isNotSameAs(now());
        // What is not tried is not shown, as with other fields.
        type("#transfer-from", "lantern");
        slide(KeyCode.END);
        assertThat(on(() -> desk.seeing().tried().get())).isNull();
        type("#transfer-from", "pilot");
        slide(KeyCode.HOME);
        press("#transfer");
        quiet();
        assertThat(((TransferWeights) last()).trade()).isZero();
        assertThat(rows(now(), "cape").weights()).isEqualTo(rows(even, "cape").weights());
        assertThat(on(() -> desk.seeing().tried().get())).isNull();
        assertThat(last()).isInstanceOf(TransferWeights.class);
        assertThat(on(() -> desk.jobs().message().get()))
                .contains("matched", "filled in", "worn on: ", "14 trial poses");
        press("#transfer-origin");
        quiet();
        press("#worn-on-neck");
        assertThat(((TextField) find("#transfer-on")).getText()).isNotBlank().doesNotContain("neck");
        press("#transfer-from-pilot");
        quiet();
        BitSet taken = on(() -> desk.selection().chosen().get().vertices());
        assertThat(taken.cardinality()).isGreaterThan(500);
        press("#transfer-filled");
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().vertices().intersects(taken)))
                .isFalse();
        assertThat(on(() -> desk.selection().chosen().get().vertices().cardinality()))
                .isGreaterThan(10);
    }

    private void slide(KeyCode end) throws Exception {
        Node slider = find("#transfer-trade");
        on(() -> {
            slider.requestFocus();
            return null;
        });
        hand.push(end);
        quiet();
    }

    @Test
    public void posesAreHeldScrubbedAndGivenUpForAClip() throws Exception {
        openDemo();
        station(Station.SKIN);
        ComboBox<?> poses = (ComboBox<?>) find("#trial-pose");
        List<String> names = on(
                () -> poses.getItems().stream().map(p -> ((TrialPose) p).name()).toList());
        assertThat(names).contains("arms-up", "squat", "sit", "twist", "bow", "look-aside");
        choose("#trial-pose", on(() -> poses.getItems().get(names.indexOf("sit"))));
        quiet();
        assertThat(on(() -> desk.playback().trial().get().name())).isEqualTo("sit");
        assertThat(text("#time-what")).contains("100 %");
        // Kept half way, it is a pose of its own, and goes with the ledger.
        on(() -> {
            desk.playback().seconds().set(0.5);
            return null;
        });
        type("#keep-pose-as", "perch");
        press("#keep-pose");
        quiet();
        assertThat(on(() -> poses.getItems().stream()
                        .map(p -> ((TrialPose) p).name())
                        .toList()))
                .contains("perch");
        String text = on(() -> desk.history().ledger().toJson());
        assertThat(Ledger.parse(text).poses())
                .singleElement()
                .satisfies(p -> assertThat(p.name()).isEqualTo("perch"));
        assertThat(Ledger.parse(text).toJson()).isEqualTo(text);
        joint("left_forearm");
        press("#trial-joint");
        assertThat(on(() -> desk.playback().trial().get().name())).isEqualTo("left_forearm x");
        on(() -> {
            desk.playback().clip().set("hail");
            return null;
        });
        assertThat(on(() -> desk.playback().trial().get())).isNull();
        CheckBox strain = (CheckBox) find("#show-strain");
        press("#show-strain");
        assertThat(on(strain::isSelected)).isTrue();
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.STRAIN);
        quiet();
    }

    @Test
    public void oneSideIsMirroredAndInfluencesAreCutByEffect() throws Exception {
        openDemo();
        station(Station.SKIN);
        choose("#bind-part", "pilot");
        press("#mirror-from-left");
        press("#mirror-unmatched");
        quiet();
        assertThat(on(() -> desk.jobs().message().get())).contains("no mirror image");
        press("#mirror-weights");
        quiet();
        assertThat(last()).isInstanceOf(MirrorWeights.class);
        assertThat(on(() -> desk.jobs().message().get())).contains("vertices changed");
        press("#limit-effect");
        quiet();
        assertThat(((LimitInfluences) last()).by()).isEqualTo(LimitInfluences.By.EFFECT);
        assertThat(rows(now(), "pilot").longestRow()).isLessThanOrEqualTo(4);
        press("#show-price");
        quiet();
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.PRICE);
        double most = on(() -> desk.price().get().most());
        double said =
                on(() -> desk.history().done().getLast().motion().orElseThrow().largestMetres());
        assertThat(most).isPositive().isLessThanOrEqualTo(said + 1e-6);
        press("#quantise");
        quiet();
        press("#weld-weights");
        quiet();
        assertThat(on(() -> desk.findings().stream().noneMatch(f -> f.check().equals("influences"))))
                .isTrue();
        on(() -> {
            desk.seeing().paint().set(ShadingMode.CHANGED);
            return null;
        });
        quiet();
    }

    @Test
    public void regionsAreMarkedSeenAndGivenByHand() throws Exception {
        openDemo();
        station(Station.SKIN);
        type("#region-part", "nobody");
        press("#region-mark");
        assertThat(text("#region-mark-preview")).contains("nobody");
        type("#region-part", "");
        press("#region-mark");
        quiet();
        Mesh pilot = now().meshes().get(now().findMesh("pilot"));
        BodyRegion[] marks = RegionMarks.of(pilot);
        assertThat(marks).doesNotContainNull().contains(BodyRegion.values());
        assertThat(on(() -> desk.findings())).noneMatch(x -> x.check().equals("regions"));
        press("#region-show");
        quiet();
        assertThat(on(() -> desk.seeing().paint().get())).isEqualTo(ShadingMode.REGIONS);
        // A region's swatch selects what belongs to it; that is given to another, and nothing else.
        press("#region-left-hand");
        quiet();
        long hand = Arrays.stream(marks).filter(r -> r == BodyRegion.LEFT_HAND).count();
        assertThat(on(() -> desk.selection().chosen().get().vertices().cardinality()))
                .isEqualTo((int) hand);
        choose("#region", BodyRegion.LEFT_LOWER_ARM);
        press("#region-give");
        quiet();
        BodyRegion[] given = RegionMarks.of(now().meshes().get(now().findMesh("pilot")));
        for (int v = 0; v < marks.length; v++) {
            assertThat(given[v]).isEqualTo(marks[v] == BodyRegion.LEFT_HAND ? BodyRegion.LEFT_LOWER_ARM : marks[v]);
        }
        assertThat(on(() -> scene.lookup("#region-left-hand"))).isNull();
    }
}
