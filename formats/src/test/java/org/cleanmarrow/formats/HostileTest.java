package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Random;
import org.cleanmarrow.checks.Checks;
import org.cleanmarrow.examination.Target;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Files made to break a reader: one clear message, no crash, no hang, no flood of memory. */
public class HostileTest {
    private static final long PATIENCE_NANOS = 2_000_000_000L;

    private static void refused(String json, String... said) {
        assertThatThrownBy(() ->
                        GltfReader.read(json.getBytes(StandardCharsets.UTF_8), "bad.gltf", Path.of("."), Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageStartingWith("bad.gltf")
                .hasMessageContainingAll(said);
    }

    private static String document(String rest) {
        return "{\"asset\":{\"version\":\"2.0\"}," + rest + "}";
    }

    @Test
    public void aThousandMutationsAreReadOrRefused() throws Exception {
        byte[] good = GltfWriter.glb(RandomAssets.of(2));
        Random random = new Random(1);
        int refused = 0;
        for (int i = 0; i < 1000; i++) {
            byte[] bad = mutated(good, random, i);
            long start = System.nanoTime();
            try {
                Asset asset = GltfReader.read(bad, "mutated.glb", null, Work.QUIET);
                // What is read must be fit to be looked at.
                Checks.run(asset, Target.named("y-up-m-rh").orElseThrow(), Work.QUIET);
                GltfWriter.glb(asset);
            } catch (ReadFailed e) {
                refused++;
                assertThat(e.getMessage()).startsWith("mutated.glb").hasSizeLessThan(500);
            }
            assertThat(System.nanoTime() - start).as("mutation %d", i).isLessThan(PATIENCE_NANOS);
        }
        assertThat(refused).isGreaterThan(300);
    }

    private static byte[] mutated(byte[] good, Random random, int i) {
        if (i % 5 == 0) {
            return java.util.Arrays.copyOf(good, random.nextInt(good.length));
        }
        byte[] bad = good.clone();
        int json = 20
                + java.nio.ByteBuffer.wrap(good)
                        .order(java.nio.ByteOrder.LITTLE_ENDIAN)
                        .getInt(12);
        int flips = 1 + random.nextInt(6);
        for (int f = 0; f < flips; f++) {
            int at = i % 5 == 1 ? random.nextInt(32) : i % 5 == 2 ? random.nextInt(bad.length) : random.nextInt(json);
            if (i % 5 == 3 && bad[at] >= '0' && bad[at] <= '9') {
                bad[at] = (byte) ('0' + random.nextInt(10));
            } else {
                bad[at] ^= (byte) (1 << random.nextInt(8));
            }
        }
        return bad;
    }

    @Test
    public void everySampleCutAnywhereIsRefused() throws Exception {
        byte[] good = Files.readAllBytes(Samples.path("generic-hand-left.glb"));
        for (int length = 0; length < good.length; length += 997) {
            byte[] cut = java.util.Arrays.copyOf(good, length);
            assertThatThrownBy(() -> GltfReader.read(cut, "cut.glb", null, Work.QUIET))
                    .isInstanceOf(ReadFailed.class);
        }
    }

    @Test
    public void hugeCountsCostNoMemory() {
        String accessors = "\"accessors\":[{\"componentType\":5126,\"count\":2000000000,\"type\":\"VEC4\"}],"
                + "\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0}}]}]";
        refused(document(accessors.replace("VEC4", "VEC3")), "accessors[0]", "than a file of this size can hold");
        refused(
                document("\"buffers\":[{\"byteLength\":2000000000,\"uri\":\"data:;base64,AAAA\"}]"),
                "buffers[0].byteLength",
                "there are 3");
        refused(
                document("\"buffers\":[{\"byteLength\":4,\"uri\":\"data:;base64,AAAAAA==\"}],"
                        + "\"bufferViews\":[{\"buffer\":0,\"byteLength\":2000000000}],"
                        + accessors
                                .replace("{\"componentType\"", "{\"bufferView\":0,\"componentType\"")
                                .replace("VEC4", "VEC3")),
                "bufferViews[0].byteLength");
    }

    /** A million uses of the same few bytes must not be decoded a million times over. */
    @Test
    public void overlappingViewsAreHeldToABudget() {
        StringBuilder accessors = new StringBuilder("\"accessors\":[");
        StringBuilder primitives = new StringBuilder();
        for (int i = 0; i < 400; i++) {
            accessors
                    .append(i == 0 ? "" : ",")
                    .append(
                            "{\"bufferView\":0,\"componentType\":5121,\"normalized\":true,\"count\":30000,\"type\":\"SCALAR\"}");
            primitives
                    .append(i == 0 ? "" : ",")
                    .append("\"_A")
                    .append(i)
                    .append("\":")
                    .append(i + 1);
        }
        accessors.append(",{\"componentType\":5126,\"count\":30000,\"type\":\"VEC3\"}]");
        String uri = java.util.Base64.getEncoder().encodeToString(new byte[30000]);
        String mesh = primitives.toString().replace("_A399\":400", "_A399\":399");
        refused(
                document("\"buffers\":[{\"byteLength\":30000,\"uri\":\"data:;base64," + uri + "\"}],"
                        + "\"bufferViews\":[{\"buffer\":0,\"byteLength\":30000}]," + accessors
                        + ",\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":400," + mesh + "}}]}]"),
                "than a file of this size can hold");
    }

    @Test
    public void nodesMustFormTrees() {
        refused(document("\"nodes\":[{\"children\":[1]},{\"children\":[0]}]"), "below itself");
        refused(document("\"nodes\":[{\"children\":[0]}]"), "below itself");
        refused(
                document("\"nodes\":[{\"children\":[2]},{\"children\":[2]},{}]"),
                "nodes[1].children",
                "below node 0 already");
        refused(document("\"nodes\":[{\"children\":[7]}]"), "nodes[0].children[0]", "there are 1 nodes");
    }

    @Test
    public void aVeryDeepChainIsReadAndChecked() throws Exception {
        StringBuilder nodes = new StringBuilder("\"nodes\":[");
        int depth = 50_000;
        for (int i = 0; i < depth; i++) {
            nodes.append(i == 0 ? "" : ",").append(i + 1 < depth ? "{\"children\":[" + (i + 1) + "]}" : "{}");
        }
        String json = document(nodes + "],\"scenes\":[{\"nodes\":[0]}],\"skins\":[{\"joints\":[" + (depth - 1) + "]}]");
        Asset asset = GltfReader.read(json.getBytes(StandardCharsets.UTF_8), "deep.gltf", null, Work.QUIET);
        assertThat(Checks.run(asset, Target.named("y-up-m-rh").orElseThrow(), Work.QUIET))
                .isNotEmpty();
    }

    @Test
    public void deeplyNestedTextIsRefused() {
        refused(
                "{\"asset\":{\"version\":\"2.0\"},\"extras\":" + "[".repeat(100_000) + "]".repeat(100_000) + "}",
                "not well formed");
    }

    @Test
    public void urisCannotLeaveTheFolder() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Files.write(folder.resolve("secret.bin"), new byte[64]);
        Path inner = Files.createDirectory(folder.resolve("inner"));
        Files.createSymbolicLink(inner.resolve("link.bin"), folder.resolve("secret.bin"));
        for (String uri : new String[] {
            "../secret.bin",
            "%2e%2e/secret.bin",
            "a/../../secret.bin",
            "/etc/passwd",
            "file:///etc/passwd",
            "http://example.org/x.bin",
            "..\\\\secret.bin",
            "link.bin"
        }) {
            String json = document("\"buffers\":[{\"byteLength\":4,\"uri\":\"" + uri + "\"}]");
            assertThatThrownBy(
                            () -> GltfReader.read(json.getBytes(StandardCharsets.UTF_8), "bad.gltf", inner, Work.QUIET))
                    .as(uri)
                    .isInstanceOf(ReadFailed.class)
                    .hasMessageContaining("buffers[0].uri")
                    .hasMessageContaining("not opened");
        }
    }

    @Test
    public void whatIsNotUnderstoodIsRefusedByName() throws Exception {
        assertThatThrownBy(() -> Samples.read("broken/NeedsDraco.gltf"))
                .hasMessageContaining("KHR_draco_mesh_compression");
        refused(document("\"extensionsRequired\":[\"OUR_tide\"]"), "OUR_tide", "not supported");
        refused("{\"asset\":{\"version\":\"1.0\"}}", "asset.version", "expected 2.0, found \"1.0\"");
        refused("{}", "asset.version");
        refused("[1,2]", "expected a glTF 2.0 document");
        refused("not json at all", "not well formed");
    }

    @Test
    public void brokenSamplesNameTheirPlace() {
        assertThatThrownBy(() -> Samples.read("broken/IndexOutOfRange.gltf"))
                .hasMessageContaining("there are 24 vertices");
        assertThatThrownBy(() -> Samples.read("broken/RecursiveNodes.gltf")).hasMessageContaining("below itself");
        assertThatThrownBy(() -> Samples.read("broken/MissingBin.gltf")).hasMessageContaining("is missing");
        assertThatThrownBy(() -> Samples.read("nowhere.glb")).hasMessageContaining("no such file");
        assertThatThrownBy(() -> AssetFiles.open(Path.of(System.getProperty("marrow.root"), "pom.xml"), Work.QUIET))
                .hasMessageContaining("glb, gltf");
    }

    @Test
    public void wrongTypesAndSizesNameTheirPlace() {
        refused(document("\"nodes\":[{\"rotation\":[0,0,1]}]"), "nodes[0].rotation", "4 numbers");
        refused(document("\"nodes\":[{\"name\":5}]"), "nodes[0].name", "text");
        refused(document("\"nodes\":[{\"mesh\":0}]"), "nodes[0].mesh", "there are 0 meshes");
        refused(document("\"nodes\":{}"), "nodes", "list");
        refused(document("\"nodes\":[{\"translation\":[0,\"x\",0]}]"), "nodes[0].translation[1]", "number");
        refused(document("\"skins\":[{\"joints\":[]}]"), "skins[0].joints");
        refused(document("\"animations\":[{\"channels\":[],\"samplers\":[]}]"), "animations[0].channels");
        refused(
                document("\"accessors\":[{\"componentType\":5124,\"count\":1,\"type\":\"VEC3\"}],"
                        + "\"meshes\":[{\"primitives\":[{\"attributes\":{\"POSITION\":0}}]}]"),
                "accessors[0].componentType",
                "5124");
    }
}
