package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import org.cleanmarrow.cloth.ClothSection;
import org.cleanmarrow.cloth.Strays;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.steps.caches.SetCloth;
import org.cleanmarrow.steps.caches.SetStray;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.VertexSet;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Cloth sections in a file and beside it. */
public class ClothFileTest {
    private static Asset clothed(long seed) throws Refused {
        Asset asset = new SetCloth("figure", 0.25, 4, 1e-4, 2e-3, 0.25, 0.5, 0.9, 30, true, true)
                .apply(RandomAssets.of(seed), Work.QUIET)
                .asset();
        return new SetStray("figure", VertexSet.ALL, 0.25, 0)
                .apply(asset, Work.QUIET)
                .asset();
    }

    @Test
    public void theyComeBackFromTheExtrasOfGltf() throws Exception {
        for (long seed = 1; seed <= 4; seed++) {
            Asset asset = clothed(seed);
            byte[] bytes = GltfWriter.glb(asset);
            Asset back = GltfReader.read(bytes, "cloth.glb", null, Work.QUIET);
            assertThat(ClothSection.all(back))
                    .isEqualTo(ClothSection.all(asset))
                    .isNotEmpty();
            int node = ClothSection.all(back).getFirst().node();
            assertThat(back.nodes().get(node).carried())
                    .isEqualTo(asset.nodes().get(node).carried());
            int mesh = back.nodes().get(node).mesh();
            assertThat(Strays.of(back.meshes().get(mesh))).containsOnly(0.25f);
            assertThat(GltfWriter.glb(back)).isEqualTo(bytes);
            Path file = Files.createTempDirectory("marrow").resolve("cloth.glb");
            Files.write(file, bytes);
            JsonNode verdict = Witness.validated(file);
            assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
        }
    }

    @Test
    public void whatIsOutOfRangeIsSaidAndLeftAsItWas() throws Exception {
        Asset asset = RandomAssets.of(2);
        int node = asset.findNode("crate");
        var nodes = new ArrayList<>(asset.nodes());
        nodes.set(node, nodes.get(node).withCarried(new Passthrough("{\"extras\":{\"cloth\":{\"substeps\":1e9}}}")));
        Asset back = GltfReader.read(GltfWriter.glb(asset.withNodes(nodes)), "cloth.glb", null, Work.QUIET);
        assertThat(ClothSection.all(back)).isEmpty();
        assertThat(back.notes()).anyMatch(n -> n.contains("extras.cloth"));
        assertThat(back.nodes().get(node).carried().json()).contains("substeps");
    }

    /** With its mesh a section loses its sense, and is let go of. */
    @Test
    public void aSectionWithoutItsMeshIsNotWritten() throws Exception {
        Asset asset = clothed(3);
        List<Node> bare = asset.nodes().stream().map(n -> n.withMesh(-1, -1)).toList();
        Asset left = asset.withNodes(bare).withMeshes(List.of());
        assertThat(ClothSection.all(left)).isEmpty();
        assertThat(AssetFiles.write(left, "bvh", "figure", Work.QUIET).pieces())
                .extracting(Written.Piece::name)
                .allMatch(n -> n.endsWith(".bvh"));
        Asset back = GltfReader.read(GltfWriter.glb(left), "cloth.glb", null, Work.QUIET);
        assertThat(back.attached()).isEmpty();
    }

    /** A format that has no place for them has them beside it, strays and all. */
    @Test
    public void besideAnyModelTheyAreReadBack() throws Exception {
        Asset asset = clothed(3);
        Path folder = Files.createTempDirectory("marrow");
        Written written = AssetFiles.write(asset, "obj", "figure", Work.QUIET);
        for (Written.Piece piece : written.pieces()) {
            Files.write(folder.resolve(piece.name()), piece.bytes());
        }
        JsonNode said = JsonMapper.shared().readTree(Files.readAllBytes(folder.resolve("figure.cloth.json")));
        JsonNode one = said.path("cloth").path(0);
        assertThat(one.path("reachMetres").asDouble()).isEqualTo(0.25);
        List<String> slots = new ArrayList<>();
        one.path("materials").forEach(m -> slots.add(m.asString("")));
        assertThat(slots)
                .containsExactlyElementsOf(asset.meshes().getFirst().primitives().stream()
                        .map(p -> p.material() < 0
                                ? ""
                                : asset.materials().get(p.material()).name())
                        .toList());
        Asset back = AssetFiles.open(folder.resolve("figure.obj"), Work.QUIET);
        assertThat(ClothSection.all(back)).hasSize(1);
        ClothSection section = ClothSection.all(back).getFirst();
        assertThat(section.fabric())
                .isEqualTo(ClothSection.all(asset).getFirst().fabric());
        // What was meant has the section as what was read has.
        Asset meant = Objects.requireNonNull(written.pieces().getFirst().meant());
        assertThat(MotionProbe.compare(meant, back, Work.QUIET).unmatched()).isEmpty();

        Files.writeString(folder.resolve("figure.cloth.json"), "{\"cloth\":[{\"part\":\"nobody\"}]}");
        Asset other = AssetFiles.open(folder.resolve("figure.obj"), Work.QUIET);
        assertThat(ClothSection.all(other)).isEmpty();
        assertThat(other.notes()).anyMatch(n -> n.contains("nobody"));
        Files.writeString(folder.resolve("figure.cloth.json"), "{\"cloth\":[");
        assertThatThrownBy(() -> AssetFiles.open(folder.resolve("figure.obj"), Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("figure.cloth.json");
    }
}
