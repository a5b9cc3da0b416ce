package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.join.Join;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.ledger.Replay;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Image;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Texture;
import org.cleanmarrow.model.TextureUse;
import org.cleanmarrow.picture.Png;
import org.cleanmarrow.query.Extensions;
import org.cleanmarrow.steps.intake.RemoveUnused;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Whatever a material or a texture names by number is followed, in the core of glTF 2.0 and in extensions. */
public class MaterialSlotsTest {
    private static String picture(int red) {
        byte[] png = Png.encode(1, 1, new int[] {red << 24 | 0xFF});
        return "{\"uri\": \"data:image/png;base64," + Base64.getEncoder().encodeToString(png) + "\"}";
    }

    /** A triangle whose one material has a texture in each slot of the core and two in extensions. */
    private static String document() {
        byte[] places = new byte[36 + 24];
        java.nio.ByteBuffer.wrap(places)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                .putFloat(12, 1)
                .putFloat(28, 1)
                .putFloat(44, 1)
                .putFloat(56, 1);
        return """
            {"asset": {"version": "2.0"},
             "extensionsUsed": ["KHR_materials_clearcoat", "KHR_materials_sheen", "KHR_texture_transform", "OWN_texture_small"],
             "buffers": [{"byteLength": 60, "uri": "data:application/octet-stream;base64,%s"}],
             "bufferViews": [{"buffer": 0, "byteLength": 36}, {"buffer": 0, "byteOffset": 36, "byteLength": 24}],
             "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [1, 1, 0]},
                           {"bufferView": 1, "componentType": 5126, "count": 3, "type": "VEC2"}],
             "meshes": [{"primitives": [{"attributes": {"POSITION": 0, "TEXCOORD_0": 1}, "material": 1}]}],
             "nodes": [{"mesh": 0}], "scenes": [{"nodes": [0]}], "scene": 0,
             "materials": [{"name": "plain"}, {"name": "coat",
               "pbrMetallicRoughness": {"baseColorTexture": {"index": 6}, "metallicRoughnessTexture": {"index": 1}, "metallicFactor": 0.25},
               "normalTexture": {"index": 2, "scale": 0.5},
               "occlusionTexture": {"index": 3, "strength": 0.75, "extensions": {"KHR_texture_transform": {"scale": [2, 2]}}},
               "emissiveTexture": {"index": 4}, "alphaMode": "BLEND",
               "extensions": {"KHR_materials_clearcoat": {"clearcoatFactor": 1, "clearcoatNormalTexture": {"index": 5}},
                              "KHR_materials_sheen": {"sheenColorTexture": {"index": 0}}}}],
             "samplers": [{"wrapS": 33071}, {"magFilter": 9728}],
             "textures": [{"source": 0, "sampler": 1}, {"source": 1}, {"source": 2, "sampler": 0}, {"source": 3}, {"source": 4},
                          {"source": 5, "extensions": {"OWN_texture_small": {"source": 7}}}, {"source": 6}, {"source": 8}],
             "images": [%s]}
            """.formatted(
                        Base64.getEncoder().encodeToString(places),
                        String.join(
                                ", ",
                                List.of(0, 1, 2, 3, 4, 5, 6, 7, 8).stream()
                                        .map(MaterialSlotsTest::picture)
                                        .toList()));
    }

    private static Asset read() throws Exception {
        Path file = Files.createTempDirectory("marrow").resolve("coat.gltf");
        Files.writeString(file, document());
        return AssetFiles.open(file, Work.QUIET);
    }

    private static JsonNode written(Asset asset) {
        byte[] glb = GltfWriter.glb(asset);
        int length = java.nio.ByteBuffer.wrap(glb)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                .getInt(12);
        return JsonMapper.shared().readTree(new String(glb, 20, length, StandardCharsets.UTF_8));
    }

    /** By slot, the red of the one pixel that its picture is. */
    private static String shown(Asset asset, Material material) {
        StringBuilder out = new StringBuilder();
        material.textures().stream()
                .sorted(java.util.Comparator.comparing(TextureUse::slot))
                .forEach(use -> {
                    Texture texture = asset.textures().get(use.texture());
                    out.append(use.slot().replaceAll(".*/", "")).append(' ');
                    out.append(red(asset.images().get(texture.image()))).append(' ');
                    texture.others()
                            .values()
                            .forEach(o -> out.append(red(asset.images().get(o))).append(' '));
                    out.append(texture.sampler().json()).append('\n');
                });
        return out.toString();
    }

    private static int red(Image image) {
        byte[] png = image.bytes();
        assertThat(png).isNotNull();
        // Signature, head chunk, then the data chunk with zlib's head, a stored block's head and the row's filter.
        return png[8 + 25 + 8 + 2 + 5 + 1];
    }

    @Test
    public void eachSlotIsReadAndWrittenAsItWas() throws Exception {
        Asset asset = read();
        Material coat = asset.materials().get(1);
        assertThat(shown(asset, coat)).isEqualTo("""
            emissiveTexture 4\s
            clearcoatNormalTexture 5 7\s
            sheenColorTexture 0 {"magFilter":9728}
            normalTexture 2 {"wrapS":33071}
            occlusionTexture 3\s
            baseColorTexture 6\s
            metallicRoughnessTexture 1\s
            """);
        assertThat(Extensions.of(asset))
                .containsExactly(
                        "KHR_materials_clearcoat", "KHR_materials_sheen", "KHR_texture_transform", "OWN_texture_small");
        JsonNode out = written(asset);
        JsonNode source = JsonMapper.shared().readTree(document());
        assertThat(out.path("materials").get(1))
                .isEqualTo(source.path("materials").get(1));
        assertThat(out.path("materials").get(0))
                .as("still a metal")
                .isEqualTo(source.path("materials").get(0));
        assertThat(out.path("textures").get(5))
                .isEqualTo(source.path("textures").get(5));
        assertThat(out.path("samplers")).hasSize(2);
    }

    /** Before, what a second file said of materials was lost where the first had textures. */
    @Test
    public void joinedFilesKeepTheirMaterialsAndWhatNothingShowsGoes() throws Exception {
        Asset first = RandomAssets.of(3);
        first = first.withPictures(
                List.of(new Material("own", new float[] {1, 0, 0, 1}, 0, false, Passthrough.NONE)),
                List.of(new Texture("own", 0, Passthrough.NONE)),
                List.of(new Image("own", "image/png", "", Png.encode(1, 1, new int[] {0x630000FF}), Passthrough.NONE)));
        Asset joined = Join.of(first, read(), Work.QUIET);
        Material coat = joined.materials().get(2);
        String before = shown(read(), read().materials().get(1));
        assertThat(shown(joined, coat)).isEqualTo(before);
        Asset used = Replay.one(joined, new RemoveUnused(), false, Work.QUIET).asset();
        assertThat(used.materials()).extracting(Material::name).containsExactly("coat");
        assertThat(used.images()).as("own and the ninth are shown by nothing").hasSize(8);
        assertThat(shown(used, used.materials().getFirst())).isEqualTo(before);
        Path glb = Files.createTempDirectory("marrow").resolve("joined.glb");
        Files.write(glb, GltfWriter.glb(used));
        JsonNode verdict = Witness.validated(glb);
        assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
        assertThat(written(used).path("extensionsUsed")).hasSize(4);
    }

    @Test
    public void texturesThatAFormatCannotHoldAreSaid() throws Exception {
        Asset asset = read();
        Material coat = asset.materials().get(1);
        List<TextureUse> base =
                coat.textures().stream().filter(u -> !u.isNormal()).toList();
        Material less = new Material(coat.name(), coat.baseColour(), base, coat.doubleSided(), coat.carried());
        Asset made = asset.withPictures(List.of(asset.materials().get(0), less), asset.textures(), asset.images());
        assertThat(Losses.between(asset, made)).anyMatch(m -> m.toString().contains("normalTexture"));
        assertThat(Losses.between(asset, made)).noneMatch(m -> m.toString().contains("occlusionTexture"));
    }
}
