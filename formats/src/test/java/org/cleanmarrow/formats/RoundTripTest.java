package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.measure.Losses;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.steps.motion.SetLoop;
import org.cleanmarrow.steps.motion.TagClips;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Read, write, read again: everything is there, in its order, to the last bit. */
public class RoundTripTest {
    @DataProvider
    public Object[][] samples() throws Exception {
        return Samples.valid().stream().map(p -> new Object[] {p}).toArray(Object[][]::new);
    }

    private static JsonNode json(byte[] glb) {
        int length = java.nio.ByteBuffer.wrap(glb)
                .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                .getInt(12);
        return JsonMapper.shared().readTree(new String(glb, 20, length, StandardCharsets.UTF_8));
    }

    private static JsonNode sourceJson(Path path) throws Exception {
        byte[] bytes = Files.readAllBytes(path);
        return path.toString().endsWith(".glb")
                ? json(bytes)
                : JsonMapper.shared().readTree(bytes);
    }

    @Test(dataProvider = "samples")
    public void nothingIsLostAndNothingMoves(Path path) throws Exception {
        Asset asset = AssetFiles.open(path, Work.QUIET);
        byte[] glb = GltfWriter.glb(asset);
        Asset again = GltfReader.read(glb, asset.name() + ".glb", null, Work.QUIET);
        Motion motion = MotionProbe.compare(asset, again, Work.QUIET);
        assertThat(motion.sameTopology()).isTrue();
        assertThat(motion.unmatched()).isEmpty();
        assertThat(motion.largestMetres()).isZero();
        // Materials, texture coordinates, colours, names, order, and all that is carried word for word.
        assertThat(motion.differences(0)).isEmpty();
        assertThat(Losses.between(asset, again)).isEmpty();
        assertThat(GltfWriter.glb(again)).as("writing is deterministic").isEqualTo(glb);
        JsonNode before = sourceJson(path);
        JsonNode after = json(glb);
        for (String list : new String[] {
            "nodes", "meshes", "skins", "animations", "materials", "textures", "images", "cameras", "scenes"
        }) {
            assertThat(after.path(list).size())
                    .as(list)
                    .isEqualTo(before.path(list).size());
            for (int i = 0; i < before.path(list).size(); i++) {
                assertThat(after.path(list).get(i).path("name"))
                        .isEqualTo(before.path(list).get(i).path("name"));
            }
        }
        sameAccessors(before, after);
    }

    /** Every use of an accessor finds one of the same kind, count and storage. */
    private static void sameAccessors(JsonNode before, JsonNode after) {
        for (int m = 0; m < before.path("meshes").size(); m++) {
            JsonNode p = before.path("meshes").get(m).path("primitives");
            JsonNode q = after.path("meshes").get(m).path("primitives");
            for (int i = 0; i < p.size(); i++) {
                assertThat(q.get(i).path("attributes").propertyNames())
                        .containsExactlyInAnyOrderElementsOf(
                                p.get(i).path("attributes").propertyNames());
                for (String name : p.get(i).path("attributes").propertyNames()) {
                    same(
                            before,
                            p.get(i).path("attributes").get(name),
                            after,
                            q.get(i).path("attributes").get(name));
                }
                same(before, p.get(i).path("indices"), after, q.get(i).path("indices"));
                assertThat(q.get(i).path("mode").asInt(4))
                        .isEqualTo(p.get(i).path("mode").asInt(4));
                assertThat(q.get(i).path("targets").size())
                        .isEqualTo(p.get(i).path("targets").size());
            }
        }
        for (int a = 0; a < before.path("animations").size(); a++) {
            JsonNode p = before.path("animations").get(a).path("samplers");
            JsonNode q = after.path("animations").get(a).path("samplers");
            for (int i = 0; i < p.size(); i++) {
                same(before, p.get(i).path("input"), after, q.get(i).path("input"));
                same(before, p.get(i).path("output"), after, q.get(i).path("output"));
            }
        }
    }

    private static void same(JsonNode before, JsonNode x, JsonNode after, JsonNode y) {
        assertThat(y.isMissingNode()).isEqualTo(x.isMissingNode());
        if (x.isMissingNode()) {
            return;
        }
        JsonNode p = before.path("accessors").get(x.intValue());
        JsonNode q = after.path("accessors").get(y.intValue());
        for (String key : new String[] {"componentType", "count", "type"}) {
            assertThat(q.path(key)).as(key).isEqualTo(p.path(key));
        }
        assertThat(q.path("normalized").asBoolean(false))
                .isEqualTo(p.path("normalized").asBoolean(false));
    }

    @Test
    public void randomAssetsComeBackToTheBit() throws Exception {
        for (long seed = 0; seed < 20; seed++) {
            Asset asset = RandomAssets.of(seed);
            Asset again = GltfReader.read(GltfWriter.glb(asset), "x.glb", null, Work.QUIET);
            assertThat(MotionProbe.compare(asset, again, Work.QUIET).largestMetres())
                    .isZero();
            Primitive p = asset.meshes().getFirst().primitives().getFirst();
            Primitive q = again.meshes().getFirst().primitives().getFirst();
            assertThat(q.tangents()).isEqualTo(p.tangents());
            assertThat(q.influences().joints()).isEqualTo(p.influences().joints());
            assertThat(q.influences().weights()).isEqualTo(p.influences().weights());
            assertThat(q.targets().get(1).tangents())
                    .isEqualTo(p.targets().get(1).tangents());
            assertThat(again.meshes().getFirst().targetNames()).containsExactly("wide", "tall");
            assertThat(again.clips().getFirst().framesPerSecond()).isEqualTo(24);
        }
    }

    @Test
    public void otherConventionsAreSaidInTheFile() throws Exception {
        Conventions target = Conventions.parse("z-up-cm-lh").orElseThrow();
        Asset converted =
                new Convert(target, true).apply(RandomAssets.of(1), Work.QUIET).asset();
        Asset again = GltfReader.read(GltfWriter.glb(converted), "x.glb", null, Work.QUIET);
        assertThat(again.conventions()).isEqualTo(target);
        assertThat(MotionProbe.compare(RandomAssets.of(1), again, Work.QUIET).largestMetres())
                .isLessThan(1e-5 * RestBox.of(RandomAssets.of(1)).diagonal());
    }

    private static Asset document(String json) throws ReadFailed {
        return GltfReader.read(json.getBytes(StandardCharsets.UTF_8), "hand.gltf", null, Work.QUIET);
    }

    /**
     * Written by hand after glTF 2.0, 3.6.2: an interleaved view with a stride of 12, normalised bytes
     * (f = c / 127, f = c / 255), and sparse values over zeros.
     */
    @Test
    public void storageFormsAreDecodedAsTheStandardSays() throws Exception {
        byte[] data = new byte[64];
        java.nio.ByteBuffer b = java.nio.ByteBuffer.wrap(data).order(java.nio.ByteOrder.LITTLE_ENDIAN);
        for (int v = 0; v < 3; v++) {
            b.putShort(v * 12, (short) (100 * v));
            b.putShort(v * 12 + 2, (short) -v);
            b.putShort(v * 12 + 4, (short) 7);
            b.put(v * 12 + 8, (byte) (v == 2 ? -128 : 127));
        }
        b.put(36, (byte) 0).put(37, (byte) 255).put(38, (byte) 51);
        b.put(40, (byte) 2);
        b.putFloat(44, 5).putFloat(48, 6).putFloat(52, 7);
        String uri = "data:application/octet-stream;base64,"
                + java.util.Base64.getEncoder().encodeToString(data);
        Asset asset = document(
                "{\"asset\":{\"version\":\"2.0\"},\"extensionsUsed\":[\"KHR_mesh_quantization\"],"
                        + "\"extensionsRequired\":[\"KHR_mesh_quantization\"],"
                        + "\"buffers\":[{\"byteLength\":64,\"uri\":\"" + uri + "\"}],"
                        + "\"bufferViews\":[{\"buffer\":0,\"byteLength\":36,\"byteStride\":12},{\"buffer\":0,\"byteOffset\":36,"
                        + "\"byteLength\":28}],\"accessors\":["
                        + "{\"bufferView\":0,\"componentType\":5122,\"count\":3,\"type\":\"VEC3\"},"
                        + "{\"bufferView\":0,\"byteOffset\":8,\"componentType\":5120,\"normalized\":true,\"count\":3,\"type\":\"SCALAR\"},"
                        + "{\"bufferView\":1,\"componentType\":5121,\"normalized\":true,\"count\":3,\"type\":\"SCALAR\"},"
                        + "{\"componentType\":5126,\"count\":3,\"type\":\"VEC3\",\"sparse\":{\"count\":1,\"indices\":{\"bufferView\":1,"
                        + "\"byteOffset\":4,\"componentType\":5121},\"values\":{\"bufferView\":1,\"byteOffset\":8}}}],"
                        + "\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0,\"NORMAL\":3,\"_WIND\":1,\"_SHADE\":2}}]}]}");
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        assertThat(p.positions()).containsExactly(0, 0, 7, 100, -1, 7, 200, -2, 7);
        assertThat(p.normals()).containsExactly(0, 0, 0, 0, 0, 0, 5, 6, 7);
        Attribute wind = p.attribute("_WIND").orElseThrow();
        assertThat(wind.values()).containsExactly(1, 1, -1);
        assertThat(wind.storage()).isEqualTo(Storage.BYTE_NORMALISED);
        assertThat(p.attribute("_SHADE").orElseThrow().values()).containsExactly(0, 1, 0.2f);
    }

    @Test
    public void unknownExtensionsAndExtrasAreCarriedWordForWord() throws Exception {
        Asset asset = document("{\"asset\":{\"version\":\"2.0\",\"copyright\":\"us\",\"extras\":{\"a\":1}},"
                + "\"extensionsUsed\":[\"OUR_tide\"],\"extensions\":{\"OUR_tide\":{\"height\":[1,2.5]}},"
                + "\"nodes\":[{\"name\":\"n\",\"extras\":{\"mood\":\"calm\"},\"extensions\":{\"OUR_tide\":{\"node\":0}}}],"
                + "\"materials\":[{\"name\":\"m\",\"alphaMode\":\"BLEND\",\"extras\":[1,2]}]}");
        JsonNode out = json(GltfWriter.glb(asset));
        assertThat(out.path("extensions").path("OUR_tide").path("height").get(1).doubleValue())
                .isEqualTo(2.5);
        assertThat(out.path("extensionsUsed").get(0).stringValue()).isEqualTo("OUR_tide");
        assertThat(out.path("nodes").get(0).path("extras").path("mood").stringValue())
                .isEqualTo("calm");
        assertThat(out.path("nodes")
                        .get(0)
                        .path("extensions")
                        .path("OUR_tide")
                        .path("node")
                        .intValue())
                .isZero();
        assertThat(out.path("materials").get(0).path("alphaMode").stringValue()).isEqualTo("BLEND");
        assertThat(out.path("asset").path("copyright").stringValue()).isEqualTo("us");
        assertThat(out.path("asset").path("extras").path("a").intValue()).isEqualTo(1);
    }

    @Test
    public void separateFilesAreReadBackWithTheirPictures() throws Exception {
        Asset asset = Samples.read("BoxTextured.gltf");
        Map<Pictures.Place, Integer> files =
                Map.of(Pictures.Place.EMBEDDED, 2, Pictures.Place.BESIDE, 3, Pictures.Place.FOLDER, 3);
        for (Pictures.Place place : Pictures.Place.values()) {
            Path folder = Files.createTempDirectory("marrow");
            List<Written.Piece> pieces = GltfWriter.separate(
                            asset, "box with space", new Pictures(place, "box with space"))
                    .pieces();
            assertThat(pieces).hasSize(files.get(place));
            for (Written.Piece piece : pieces) {
                Path file = folder.resolve(piece.name());
                Files.createDirectories(file.getParent());
                Files.write(file, piece.bytes());
            }
            Asset again = AssetFiles.open(folder.resolve("box with space.gltf"), Work.QUIET);
            assertThat(again.images().getFirst().bytes())
                    .isEqualTo(asset.images().getFirst().bytes());
            assertThat(MotionProbe.compare(asset, again, Work.QUIET).largestMetres())
                    .isZero();
            assertThat(again.nodes().stream().map(Node::name).toList())
                    .isEqualTo(asset.nodes().stream().map(Node::name).toList());
        }
        assertThat(GltfWriter.separate(
                                Asset.of("bare", Conventions.GLTF, List.of(), List.of(), List.of(), List.of()),
                                "bare",
                                Pictures.embedded("bare"))
                        .pieces())
                .as("nothing needs a buffer")
                .hasSize(1);
    }

    /** Extras are any JSON (glTF 2.0, 3.12): tags are read where they are words, and carried as they are where not. */
    @Test
    public void tagsOfClipsAreKeptAndWhatIsNoTagIsCarried() throws Exception {
        Asset asset = RandomAssets.of(2);
        Asset tagged = new TagClips("linear", " walk,base , walk")
                .apply(asset, Work.QUIET)
                .asset();
        Asset again = GltfReader.read(GltfWriter.glb(tagged), "a.glb", null, Work.QUIET);
        assertThat(again.clips()).extracting(Clip::tags).containsExactly(List.of(), List.of("walk", "base"), List.of());
        assertThat(json(GltfWriter.glb(tagged)).at("/animations/1/extras/tags").toString())
                .isEqualTo("[\"walk\",\"base\"]");
        Asset chosen = new SetLoop("tag:walk", true).apply(tagged, Work.QUIET).asset();
        assertThat(chosen.clips()).extracting(Clip::loop).containsExactly(false, true, false);
        assertThat(new TagClips("tag:base", "")
                        .apply(tagged, Work.QUIET)
                        .asset()
                        .clips())
                .allMatch(c -> c.tags().isEmpty());
        assertThatThrownBy(() -> new SetLoop("tag:none", true).apply(tagged, Work.QUIET))
                .hasMessageContaining("tag:none");
        assertThatThrownBy(() -> new TagClips("linear", "two words").apply(asset, Work.QUIET))
                .hasMessageContaining("two words");
        for (String other : List.of("[\"walk\", 3]", "{\"walk\": true}", "[\"two words\"]")) {
            Passthrough extras = new Passthrough("{\"extras\":{\"tags\":" + other + "}}");
            Asset foreign =
                    asset.mapClips(c -> new Clip(c.name(), c.channels(), c.framesPerSecond(), c.loop(), true, extras));
            byte[] file = GltfWriter.glb(foreign);
            Asset read = GltfReader.read(file, "a.glb", null, Work.QUIET);
            assertThat(read.clips()).allMatch(c -> c.tags().isEmpty());
            assertThat(json(GltfWriter.glb(read)).at("/animations/1/extras/tags"))
                    .isEqualTo(JsonMapper.shared().readTree(other));
        }
        assertThat(Formats.ofEnding("dae")
                        .orElseThrow()
                        .leavesOut(tagged)
                        .orElseThrow()
                        .toString())
                .contains("the tags of one clip");
    }
}
