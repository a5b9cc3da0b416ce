package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import javafx.scene.Node;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.testng.annotations.Test;

/** Without a mouse: everything can be reached by Tab, has a name for a screen reader, and shows that it has the focus. */
public class KeyboardTest extends DeskWindow {
    private static String called(Node node) {
        return node.getId() != null ? node.getId() : node.getClass().getSimpleName() + " " + spoken(node);
    }

    /** What a screen reader has to say of a control. */
    private static String spoken(Node node) {
        if (node.getAccessibleText() != null && !node.getAccessibleText().isBlank()) {
            return node.getAccessibleText();
        }
        if (node instanceof Labeled labeled && labeled.getText() != null) {
            return labeled.getText();
        }
        return node instanceof TextField field && field.getPromptText() != null ? field.getPromptText() : "";
    }

    private static boolean isShown(Node node) {
        for (Node up = node; up != null; up = up.getParent()) {
            if (!up.isVisible() || up.isDisabled()) {
                return false;
            }
        }
        return true;
    }

    private Set<Node> reachedByTab() throws Exception {
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        Set<Node> reached = new LinkedHashSet<>();
        for (int i = 0; i < 160; i++) {
            Node owner = on(() -> scene.getFocusOwner());
            if (owner != null && !reached.add(owner) && reached.size() > 8 && owner == window.viewport()) {
                break;
            }
            hand.push(KeyCode.TAB);
        }
        return reached;
    }

    @Test
    public void tabReachesEveryControlOfTheSkinStation() throws Exception {
        openDemo();
        station(Station.SKIN);
        on(() -> {
            desk.show(desk.findings().stream()
                    .filter(f -> f.check().equals("leak"))
                    .findFirst()
                    .orElseThrow());
            return null;
        });
        quiet();
        Set<Node> reached = reachedByTab();
        List<Node> wanted = new ArrayList<>();
        on(() -> {
            for (String kind : List.of(
                    ".button",
                    ".toggle-button",
                    ".text-field",
                    ".check-box",
                    ".combo-box",
                    ".list-view",
                    ".hyperlink",
                    ".menu-button")) {
                for (Node node : scene.getRoot().lookupAll(kind)) {
                    boolean own = node instanceof ButtonBase
                            || node instanceof TextField
                            || node instanceof ComboBox
                            || node instanceof ListView;
                    if (own && isShown(node) && node.isFocusTraversable()) {
                        wanted.add(node);
                    }
                }
            }
            return null;
        });
        assertThat(wanted.size()).isGreaterThan(45);
        // Of toggles that belong together Tab reaches the chosen one, and arrows the others.
        List<String> missed = wanted.stream()
                .filter(n -> !reached.contains(n))
                .filter(n -> !(n instanceof javafx.scene.control.ToggleButton t && t.getToggleGroup() != null))
                .map(KeyboardTest::called)
                .toList();
        assertThat(missed).isEmpty();
        assertThat(reached.stream()
                        .filter(n -> spoken(n).isBlank())
                        .map(KeyboardTest::called)
                        .toList())
                .as("controls without a name")
                .isEmpty();
    }

    @Test
    public void theWholeLoopOfAJointIsDoneByKeys() throws Exception {
        openDemo();
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        hand.push(KeyCode.ALT, KeyCode.DIGIT4);
        quiet();
        hand.push(KeyCode.CONTROL, KeyCode.K);
        hand.write("left_upper_arm moves");
        quiet();
        hand.push(KeyCode.ENTER);
        quiet();
        assertThat(on(() -> desk.selection().joint().get())).isEqualTo("left_upper_arm");
        assertThat(on(() -> desk.selection().chosen().get().vertices().cardinality()))
                .isEqualTo(154);
        hand.push(KeyCode.CONTROL, KeyCode.K);
        hand.write("whole islands");
        quiet();
        hand.push(KeyCode.ENTER);
        quiet();
        assertThat(on(() -> desk.selection().chosen().get().vertices().cardinality()))
                .isEqualTo(412);
        press("#take-off");
        quiet();
        assertThat(on(() -> desk.history().done())).hasSize(1);
        on(() -> {
            window.viewport().requestFocus();
            return null;
        });
        hand.push(KeyCode.CONTROL, KeyCode.Z);
        quiet();
        assertThat(on(() -> desk.history().done())).isEmpty();
        hand.push(KeyCode.ESCAPE);
        assertThat(on(() -> desk.selection().chosen().get().isEmpty())).isTrue();
    }

    private static Asset manyParts() {
        List<org.cleanmarrow.model.Node> nodes = new ArrayList<>();
        List<Mesh> meshes = new ArrayList<>();
        List<Clip> clips = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            float x = i % 20 * 0.3f;
            float z = i / 20 * 0.3f;
            float[] p = {x, 0, z, x + 0.2f, 0, z, x, 0.4f, z};
            meshes.add(Mesh.of("plank_" + i, Primitive.triangles(new int[] {0, 1, 2}, p, null, -1)));
            nodes.add(org.cleanmarrow.model.Node.group("plank_" + i, Local.IDENTITY)
                    .withMesh(i, -1));
        }
        for (int c = 0; c < 40; c++) {
            Sampler sampler = new Sampler(
                    Sampler.Interpolation.LINEAR,
                    new float[] {0, 1 + c * 0.1f},
                    new float[] {0, 0, 0, 0, 1, 0},
                    3,
                    Storage.FLOAT);
            Channel channel = new Channel(c, Channel.Path.TRANSLATION, sampler, "", Passthrough.NONE);
            clips.add(new Clip("swing_" + c, List.of(channel), 24, false, true, Passthrough.NONE));
        }
        return Asset.of("planks", Conventions.GLTF, nodes, meshes, List.of(), clips);
    }

    @Test
    public void threeHundredPartsAndFortyClipsKeepTheLayout() throws Exception {
        Path file = home.resolve("planks.glb");
        Files.write(file, GltfWriter.glb(manyParts()));
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
        station(Station.MOTION);
        on(() -> {
            for (String id : List.of("#viewport", "#joint-filter", "#play", "#to-delivery", "#undo")) {
                Node node = scene.lookup(id);
                var b = node.localToScene(node.getBoundsInLocal());
                assertThat(b.getMinY()).as(id).isNotNegative();
                assertThat(b.getMaxY()).as(id).isLessThanOrEqualTo(scene.getHeight() + 1);
                assertThat(b.getMaxX()).as(id).isLessThanOrEqualTo(scene.getWidth() + 1);
            }
            assertThat(scene.lookup("#viewport").getBoundsInLocal().getHeight()).isGreaterThan(280);
            return null;
        });
    }
}
