package org.cleanmarrow.desktop;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;
import javafx.scene.control.ListView;
import org.cleanmarrow.demo.Demo;
import org.cleanmarrow.examination.Station;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.surface.Subset;
import org.testng.annotations.Test;

/** Materials are put in order and made fewer by hand, and vertices put back in the order of the file that they came from. */
public class SlotsAndOrderTest extends DeskWindow {
    private static final int HOLE = 100;

    private List<String> materials() throws Exception {
        return on(() -> desk.now().materials().stream().map(Material::name).toList());
    }

    private void slot(int... rows) throws Exception {
        on(() -> {
            ListView<?> list = (ListView<?>) scene.lookup("#slots");
            list.getSelectionModel().clearSelection();
            IntStream.of(rows).forEach(list.getSelectionModel()::select);
            return null;
        });
    }

    @Test
    public void materialsAreMovedRenamedMergedAndMadeLikeThoseOfAnotherFile() throws Exception {
        Path folder = Files.createTempDirectory("ferry");
        Demo bridge = Demo.named("lift-bridge").orElseThrow();
        Path file = Files.write(folder.resolve(bridge.file()), bridge.bytes().get());
        on(() -> {
            desk.files().openDemo(bridge);
            desk.station().set(Station.INTAKE);
            return null;
        });
        quiet();
        List<String> first = materials();
        assertThat(first).hasSizeGreaterThan(2);
        find("#slots");
        quiet();
        assertThat(on(() -> ((ListView<?>) scene.lookup("#slots")).getItems().toString()))
                .contains(first.getFirst(), " tri");
        press("#slot-up");
        assertThat(text("#slots-preview")).contains("Select materials first");
        slot(1);
        press("#slot-up");
        quiet();
        assertThat(materials()).startsWith(first.get(1), first.get(0));
        // What was selected is selected still.
        press("#slot-down");
        quiet();
        assertThat(materials()).isEqualTo(first);
        type("#slot-name", "oiled iron");
        press("#slot-rename");
        quiet();
        assertThat(materials()).contains("oiled iron");
        on(() -> {
            desk.undo();
            desk.files().materialsFrom(file);
            return null;
        });
        quiet();
        assertThat(text("#message")).contains("names and the order");
        slot(0, 2);
        press("#slots-merge");
        quiet();
        assertThat(materials())
                .hasSize(first.size() - 1)
                .contains(first.getFirst())
                .doesNotContain(first.get(2));
    }

    @Test
    public void whatCameShuffledIsPutInTheOrderOfItsTemplateAndWhatIsNotFoundIsShown() throws Exception {
        Path folder = Files.createTempDirectory("ferry");
        Asset vest = Demo.named("float-vest").orElseThrow().asset().get();
        Path template = Files.write(folder.resolve("float-vest.glb"), GltfWriter.glb(vest));
        Mesh mesh = vest.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        // Turned round, and a hole cut into it.
        int[] back = IntStream.range(0, p.vertexCount())
                .map(v -> p.vertexCount() - 1 - v)
                .toArray();
        int[] was = p.triangleCorners();
        int[] corners = IntStream.range(0, was.length / 3)
                .filter(t -> IntStream.range(0, 3).noneMatch(k -> was[3 * t + k] == HOLE))
                .flatMap(t -> IntStream.range(3 * t, 3 * t + 3))
                .map(c -> p.vertexCount() - 1 - was[c])
                .toArray();
        Primitive turned = Subset.ofTriangles(Subset.ofVertices(p, back, corners), corners);
        Asset edited = vest.withMesh(0, mesh.withPrimitives(List.of(turned)));
        Path came = Files.write(folder.resolve("edited.glb"), GltfWriter.glb(edited));
        on(() -> {
            desk.files().open(came);
            desk.station().set(Station.INTAKE);
            return null;
        });
        quiet();
        on(() -> {
            desk.files().orderFrom(template);
            return null;
        });
        quiet();
        Mesh now = on(() -> desk.now().meshes().getFirst());
        assertThat(now.primitives().getFirst().triangleCorners()).isEqualTo(p.triangleCorners());
        find("#order-meshes");
        quiet();
        int gone = p.vertexCount() - turned.vertexCount();
        assertThat(gone).isPositive();
        press("#order-show");
        quiet();
        BitSet shown = on(() -> desk.selection().chosen().get().vertices());
        assertThat(shown.cardinality()).isEqualTo(gone);
        assertThat(shown.get(HOLE)).isTrue();
        on(() -> {
            desk.files().orderFrom(template);
            return null;
        });
        quiet();
        assertThat(text("#message")).contains("in its order already");
    }
}
