package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javafx.geometry.Bounds;
import javafx.scene.Node;
import javafx.scene.control.ListView;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Skin;
import org.testng.annotations.Test;

/** A thousand joints, names without end, and an asset with nothing in it: the layout holds. */
public class ExtremesTest extends DeskWindow {
    private void open(Asset asset) throws Exception {
        Path file = home.resolve("extreme.glb");
        Files.write(file, GltfWriter.glb(asset));
        on(() -> {
            desk.files().open(file);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.isOpen())).as(text("#message")).isTrue();
    }

    private static Asset manyJoints() {
        int joints = 1000;
        List<org.cleanmarrow.model.Node> nodes = new ArrayList<>();
        int[] list = new int[joints];
        for (int j = 0; j < joints; j++) {
            list[j] = j;
            int[] children = j + 1 < joints ? new int[] {j + 1} : new int[0];
            nodes.add(org.cleanmarrow.model.Node.group(
                    "joint_" + "very_".repeat(38) + j, Local.at(0, 0.002, 0), children));
        }
        nodes.add(org.cleanmarrow.model.Node.group("m".repeat(200), Local.IDENTITY)
                .withMesh(0, 0));
        Influences.Builder rows = new Influences.Builder(3);
        for (int v = 0; v < 3; v++) {
            rows.add(joints - 1, 1);
            rows.endRow();
        }
        Mesh mesh = Mesh.of(
                "part_" + "long_".repeat(39),
                Primitive.triangles(new int[] {0, 1, 2}, new float[] {0, 0, 0, 1, 0, 0, 0, 2, 0}, null, -1)
                        .withInfluences(rows.build()));
        return Asset.of(
                "many",
                Conventions.GLTF,
                nodes,
                List.of(mesh),
                List.of(new Skin("", list, null, 0, Passthrough.NONE)),
                List.of());
    }

    private static boolean shown(Node node) {
        for (Node up = node; up != null; up = up.getParent()) {
            if (!up.isVisible()) {
                return false;
            }
        }
        return true;
    }

    private void holds() throws Exception {
        for (Station station :
                List.of(Station.INTAKE, Station.SCALE_AND_AXES, Station.SKELETON, Station.SKIN, Station.DELIVERY)) {
            station(station);
            on(() -> {
                for (String id : List.of("#to-delivery", "#viewport", "#station-delivery", "#target")) {
                    Node node = scene.lookup(id);
                    Bounds b = node.localToScene(node.getBoundsInLocal());
                    assertThat(b.getMinX()).as("%s in %s", id, station).isGreaterThanOrEqualTo(-1);
                    assertThat(b.getMinY()).as("%s in %s", id, station).isGreaterThanOrEqualTo(-1);
                    assertThat(b.getMaxX()).as("%s in %s", id, station).isLessThanOrEqualTo(scene.getWidth() + 1);
                    assertThat(b.getMaxY()).as("%s in %s", id, station).isLessThanOrEqualTo(scene.getHeight() + 1);
                    assertThat(b.getWidth()).as("%s in %s", id, station).isGreaterThan(40);
                }
                // Names of two hundred characters take no room from what they stand beside.
                Node view = scene.lookup("#viewport");
                assertThat(view.getBoundsInLocal().getWidth()).isGreaterThan(0.4 * scene.getWidth());
                for (Node node : scene.getRoot().lookupAll(".button")) {
                    if (node.isVisible() && shown(node)) {
                        Bounds b = node.localToScene(node.getBoundsInLocal());
                        assertThat(b.getMaxX()).as(node + " in " + station).isLessThanOrEqualTo(scene.getWidth() + 1);
                    }
                }
                return null;
            });
        }
    }

    @Test
    public void aThousandJointsWithEndlessNames() throws Exception {
        open(manyJoints());
        assertThat(on(() -> desk.now().jointFlags().length)).isEqualTo(1001);
        holds();
        on(() -> {
            desk.selection().joint().set(desk.now().nodeRef(999));
            return null;
        });
        quiet();
        holds();
    }

    @Test
    public void nothingAtAll() throws Exception {
        open(Asset.of("empty", Conventions.GLTF, List.of(), List.of(), List.of(), List.of()));
        holds();
        assertThat(on(() -> desk.findings())).noneMatch(f -> f.check().equals("root"));
    }

    /** As many nodes with a turn and a scale, each a finding of its own. */
    private static Asset manyFindings(int many) {
        List<org.cleanmarrow.model.Node> nodes = new ArrayList<>();
        Mesh mesh = Mesh.of(
                "plank", Primitive.triangles(new int[] {0, 1, 2}, new float[] {0, 0, 0, 1, 0, 0, 0, 2, 0}, null, -1));
        for (int n = 0; n < many; n++) {
            Local local = new Local(
                    new float[] {n % 100 * 1.5f, 0, n / 100 * 3f},
                    new float[] {0, 0, 0, 1},
                    new float[] {2, 2, 2},
                    null);
            nodes.add(org.cleanmarrow.model.Node.group("plank_" + n, local).withMesh(0, -1));
        }
        return Asset.of("planks", Conventions.GLTF, nodes, List.of(mesh), List.of(), List.of());
    }

    @Test
    public void tenThousandFindingsAreScrolled() throws Exception {
        open(manyFindings(10_000));
        station(Station.SCALE_AND_AXES);
        ListView<?> list = (ListView<?>) find("#findings");
        assertThat(on(() -> list.getItems().size())).isGreaterThanOrEqualTo(10_000);
        reveal(9_000);
        assertThat(on(() -> scene.getRoot().lookupAll(".finding-cell").size()))
                .as("cells are made for what is seen alone")
                .isLessThan(40);
        assertThat(on(() -> scene.getRoot().lookupAll(".finding-cell").stream()
                        .map(Node::getAccessibleText)
                        .filter(t -> t != null && t.contains("plank_"))
                        .count()))
                .isPositive();
        holds();
    }

    @Test
    public void threeHundredStepsStandInTheLedger() throws Exception {
        open(manyJoints());
        on(() -> {
            List<org.cleanmarrow.work.Step> steps = new ArrayList<>();
            for (int i = 0; i < 300; i++) {
                steps.add(new org.cleanmarrow.steps.intake.Rename(
                        org.cleanmarrow.steps.intake.Rename.Kind.NODE,
                        i == 0 ? "m".repeat(200) : "n" + (i - 1),
                        "n" + i));
            }
            desk.applyAll(steps);
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done()))
                .hasSize(300)
                .allSatisfy(d -> assertThat(d.outcome()).isPresent());
        assertThat(find("#chip-300").getStyleClass()).contains("chosen");
        holds();
        on(() -> {
            desk.undo();
            return null;
        });
        quiet();
        assertThat(on(() -> desk.history().done())).isEmpty();
    }
}
