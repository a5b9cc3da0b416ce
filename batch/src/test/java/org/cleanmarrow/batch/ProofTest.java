package org.cleanmarrow.batch;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.cleanmarrow.demo.ferry.LiftBridge;
import org.cleanmarrow.demo.pilot.FerryPilot;
import org.cleanmarrow.formats.AssetFiles;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.kit.OpenSamples;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Work;
import org.testng.annotations.BeforeClass;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** Exit codes and JSON of run and compare where something is lost, off, not finite or broken. */
public class ProofTest {
    private static final Path HAND = OpenSamples.path("generic-hand-left.glb");

    private Path folder;

    @BeforeClass
    public void makeFolder() throws Exception {
        folder = Files.createTempDirectory("proof");
    }

    private Path file(String name, Asset asset) throws Exception {
        return Files.write(folder.resolve(name), GltfWriter.glb(asset));
    }

    private Path ledger(String steps) throws Exception {
        Path file = Files.createTempFile(folder, "ledger", ".json");
        return Files.writeString(file, "{\"ledger\": 1, \"steps\": [" + steps + "]}");
    }

    private static List<String> texts(JsonNode list) {
        return list.valueStream().map(JsonNode::asString).toList();
    }

    @Test
    public void aLostClipOrMeshEndsWithOneAndIsNamed() throws Exception {
        Asset bridge = LiftBridge.asset();
        Path whole = file("whole.glb", bridge);
        Path fewer = file("fewer.glb", bridge.withClips(bridge.clips().subList(1, 2)));
        Said clip = Said.run("compare", whole.toString(), fewer.toString(), "--json");
        assertThat(clip.code()).isEqualTo(1);
        assertThat(texts(clip.json().path("differences")))
                .containsExactly("clip " + bridge.clips().getFirst().name() + " is only in the first");
        List<Node> nodes = bridge.nodes().stream()
                .map(n -> n.mesh() == 0 ? n.withMesh(-1, -1) : n)
                .toList();
        Said mesh = Said.run(
                "compare",
                whole.toString(),
                file("bare.glb", bridge.withNodes(nodes)).toString(),
                "--json");
        assertThat(mesh.code()).isEqualTo(1);
        assertThat(texts(mesh.json().path("differences"))).anyMatch(d -> d.contains("is only in the first"));
        assertThat(Said.run("compare", whole.toString(), whole.toString(), "--json")
                        .code())
                .isZero();
    }

    @Test
    public void whatIsNotANumberIsNotTheSame() throws Exception {
        Asset hand = AssetFiles.open(HAND, Work.QUIET);
        Mesh mesh = hand.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        float[] spoilt = p.positions().clone();
        java.util.Arrays.fill(spoilt, Float.NaN);
        Asset bad = hand.withMesh(
                0, mesh.withPrimitives(List.of(p.withShape(spoilt, p.normals(), p.tangents(), p.targets()))));
        Said said = Said.run("compare", HAND.toString(), file("nan.glb", bad).toString(), "--json");
        assertThat(said.code()).isEqualTo(1);
        // Valid JSON for infinite: read as a double it is.
        assertThat(said.json().path("largestMetres").doubleValue()).isInfinite();
    }

    @Test
    public void aStepThatIsOffIsNoFailure() throws Exception {
        Said said = Said.run(
                "run",
                ledger("{\"step\": \"add-root\", \"off\": true}, {\"step\": \"trim-ends\"}")
                        .toString(),
                file("off.glb", FerryPilot.asset()).toString(),
                "--out",
                folder.resolve("off").toString(),
                "--json");
        assertThat(said.code()).as(said.err()).isZero();
        assertThat(said.json().path("steps").get(0).path("on").asBoolean()).isFalse();
        assertThat(said.json().path("steps").get(0).path("done").asBoolean()).isFalse();
        assertThat(said.json().path("landing").path("differences").isEmpty()).isTrue();
        assertThat(said.err()).doesNotContain("off");
    }

    @Test
    public void ofSeveralFilesOneBadIsSaidBesideWhatWasDelivered() throws Exception {
        Path good = file("good.glb", LiftBridge.asset());
        Path bad = Files.write(folder.resolve("bad.glb"), new byte[] {1, 2, 3});
        Path out = folder.resolve("several");
        Said said = Said.run(
                "run", ledger("").toString(), good.toString(), bad.toString(), "--out", out.toString(), "--json");
        assertThat(said.code()).isEqualTo(2);
        assertThat(said.json().path("files")).hasSize(1);
        assertThat(said.json().path("failed").get(0).path("file").asString()).endsWith("bad.glb");
        assertThat(Path.of(said.json().path("files").get(0).asString())).exists();
        assertThat(said.err()).contains("bad.glb");
    }

    @Test
    public void aConversionBeyondWhatNumbersHoldIsRefused() throws Exception {
        String tiny = "{\"step\": \"convert\", \"to\": {\"metresPerUnit\": 1e-42, \"up\": \"y\", \"forward\": \"z\","
                + " \"handedness\": \"right\"}}";
        Said said = Said.run(
                "run",
                ledger(tiny).toString(),
                HAND.toString(),
                "--out",
                folder.resolve("tiny").toString(),
                "--json");
        assertThat(said.code()).isEqualTo(1);
        assertThat(said.json().path("steps").get(0).path("done").asBoolean()).isFalse();
        assertThat(said.json().path("steps").get(0).path("reason").asString()).contains("not finite");
    }

    /** Losses are found by comparing what arrived, whatever the format. */
    @Test
    public void everyFormatSaysWhatDidNotComeAlong() throws Exception {
        Path rich = Files.writeString(folder.resolve("rich.gltf"), """
                {"asset": {"version": "2.0"}, "scene": 0, "scenes": [{"nodes": [0]}, {"name": "other", "nodes": [0]}],
                 "nodes": [{"name": "plate", "mesh": 0, "extras": {"tag": 7}}],
                 "meshes": [{"name": "plate", "primitives": [{"attributes": {"POSITION": 0, "TEXCOORD_0": 1, "_HEAT": 2},
                   "material": 0}]}],
                 "materials": [{"name": "metal", "alphaMode": "MASK", "emissiveFactor": [1, 0, 0],
                   "pbrMetallicRoughness": {"roughnessFactor": 0.3},
                   "extensions": {"KHR_materials_clearcoat": {"clearcoatFactor": 1}}}],
                 "extensionsUsed": ["KHR_materials_clearcoat"],
                 "accessors": [
                  {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3", "min": [0, 0, 0], "max": [0, 0, 0]},
                  {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC2"},
                  {"bufferView": 0, "componentType": 5126, "count": 3, "type": "SCALAR"}],
                 "bufferViews": [{"buffer": 0, "byteLength": 36}],
                 "buffers": [{"byteLength": 36,
                   "uri": "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"}]}
                """);
        for (String format : List.of("dae", "obj", "ply", "glb", "gltf")) {
            Said said = Said.run(
                    "run",
                    ledger("").toString(),
                    rich.toString(),
                    "--out",
                    folder.resolve("losses-" + format).toString(),
                    "--as",
                    format,
                    "--json");
            assertThat(said.code()).as(format + said.err()).isZero();
            String losses = String.join("\n", texts(said.json().path("landing").path("losses")));
            if (format.startsWith("gl")) {
                assertThat(losses).isEmpty();
                continue;
            }
            List<String> wanted =
                    new ArrayList<>(format.equals("ply") ? List.of("scene") : List.of("extras.tag", "_HEAT", "scene"));
            wanted.addAll(
                    format.equals("ply")
                            ? List.of("one material")
                            : List.of("alphaMode", "emissiveFactor", "roughnessFactor", "KHR_materials_clearcoat"));
            for (String lost : wanted) {
                assertThat(losses).as(format).contains(lost);
                assertThat(said.err()).as(format).contains(lost);
            }
        }
    }

    @Test
    public void nothingHalfWrittenStays() throws Exception {
        Path out = Files.createDirectories(folder.resolve("swept"));
        Path dead = Files.write(out.resolve(".writing-2147483646-x.tmp"), new byte[10]);
        Path older = Files.write(out.resolve(".writing-0b7c.tmp"), new byte[10]);
        Path alive =
                Files.write(out.resolve(".writing-" + ProcessHandle.current().pid() + "-y.tmp"), new byte[10]);
        Said.run("run", ledger("").toString(), HAND.toString(), "--out", out.toString(), "--json");
        assertThat(dead).doesNotExist();
        assertThat(older).doesNotExist();
        assertThat(alive).exists();
        try (Stream<Path> files = Files.list(out)) {
            assertThat(files.filter(f -> !f.equals(alive))
                            .map(f -> f.getFileName().toString()))
                    .containsExactlyInAnyOrder("generic-hand-left_v001.glb", "generic-hand-left_v001.manifest.json");
        }
    }

    @Test
    public void badNamesOnTheCommandLineGetOneClearMessage() throws Exception {
        Path text = Files.writeString(folder.resolve("plain.txt"), "x");
        String hand = HAND.toString();
        String out = folder.resolve("messages").toString();
        String[][] cases = {
            {"nowhere.json: there is no such file", "run", "nowhere.json", hand, "--out", out},
            {"is a folder; expected a ledger", "run", folder.toString(), hand, "--out", out},
            {"is a folder; expected a file", "inspect", folder.toString()},
            {"plain.txt", "run", ledger("").toString(), hand, "--out", text.toString()},
            {
                "plain.txt",
                "run",
                ledger("").toString(),
                hand,
                "--out",
                text.resolve("below").toString()
            },
            {"expected a file ending in", "inspect", text.toString()},
        };
        for (String[] one : cases) {
            Said said = Said.run(java.util.Arrays.copyOfRange(one, 1, one.length));
            assertThat(said.code()).as(one[0]).isEqualTo(2);
            assertThat(said.err()).contains(one[0]);
            assertThat(said.err().strip().lines().count()).as(said.err()).isEqualTo(1);
        }
        assertThat(Said.run("help").code()).isZero();
        assertThat(Said.run("--version").out()).contains("Clean Marrow");
        assertThat(Said.run("--version").code()).isZero();
    }
}
