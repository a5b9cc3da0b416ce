package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.IntStream;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.VertexMap;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.surface.Subset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** An open sample whose vertices were turned end for end is put back, whatever its template's axes are. */
public class ReorderCommandTest {
    private static final Path HAND = OpenSamples.path("generic-hand-left.glb");

    private static Asset turned(Asset asset) {
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        int n = p.vertexCount();
        int[] from = IntStream.range(0, n).map(v -> n - 1 - v).toArray();
        int[] indices = IntStream.of(p.triangleCorners()).map(v -> n - 1 - v).toArray();
        Mesh other = mesh.withPrimitives(List.of(Subset.ofVertices(p, from, indices)));
        return asset.withMesh(0, other, new VertexMap(from));
    }

    @Test
    public void theOrderOfATemplateComesBack() throws Exception {
        Path folder = Files.createTempDirectory("marrow-reorder");
        Asset hand = AssetFiles.open(HAND, Work.QUIET);
        Path edited = Files.write(folder.resolve("edited.glb"), GltfWriter.glb(turned(hand)));
        assertThat(Said.run("compare", edited.toString(), HAND.toString(), "--json")
                        .code())
                .isEqualTo(1);
        Asset other = new Convert(Conventions.parse("z-up-cm-rh").orElseThrow(), true)
                .apply(hand, Work.QUIET)
                .asset();
        Path template = Files.write(folder.resolve("template.glb"), GltfWriter.glb(other));
        Said said = Said.run(
                "reorder", edited.toString(), "--like", template.toString(), "--out", folder + "/out", "--json");
        assertThat(said.code()).as(said.err()).isZero();
        JsonNode json = said.json();
        assertThat(json.path("matched").intValue())
                .isEqualTo(hand.meshes().getFirst().vertexCount());
        assertThat(json.path("unmatched").intValue()).isZero();
        String delivered = json.path("files").get(0).stringValue();
        Said same = Said.run("compare", delivered, HAND.toString(), "--json");
        assertThat(same.code()).as(same.out()).isZero();
        assertThat(AssetFiles.open(Path.of(delivered), Work.QUIET)
                        .meshes()
                        .getFirst()
                        .primitives()
                        .getFirst()
                        .triangleCorners())
                .isEqualTo(hand.meshes().getFirst().primitives().getFirst().triangleCorners());
    }

    @Test
    public void withoutALikeThatIsSaid() {
        Said said = Said.run(
                "reorder",
                HAND.toString(),
                "--like",
                OpenSamples.path("simple_skin.gltf").toString(),
                "--out",
                "none",
                "--json");
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.json().path("matched").intValue()).isZero();
        assertThat(Path.of("none")).doesNotExist();
    }
}
