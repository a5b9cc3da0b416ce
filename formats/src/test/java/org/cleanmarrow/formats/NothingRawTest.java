package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.StickFigure;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Passthrough;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Storage;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;

/** Inputs that once ended in an exception, a hang or a file that nobody can read. */
public class NothingRawTest {
    private static byte[] text(String s) {
        return s.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    public void anElementTwiceInPlyIsRefused() {
        String header =
                "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\n";
        byte[] bytes = text(header + header.substring(header.indexOf("element")) + "end_header\n0 0 0\n0 0 0\n");
        assertThatThrownBy(() -> PlyReader.read(bytes, "twice.ply", Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("vertex again");
    }

    @Test
    public void weightsThatAreNamesAndOffsetsBeyondAllUseAreRefused() throws Exception {
        String good = new String(
                AssetFiles.write(StickFigure.of(1.8), "dae", "figure", Work.QUIET)
                        .pieces()
                        .getFirst()
                        .bytes(),
                StandardCharsets.UTF_8);
        assertThat(ColladaReader.read(text(good), "figure.dae", null, Work.QUIET)
                        .skins())
                .hasSize(1);
        int weights = good.indexOf("semantic=\"WEIGHT\"");
        String source = good.substring(weights).replaceFirst("(?s).*?source=\"#([^\"]+)\".*", "$1");
        int at = good.indexOf("id=\"" + source + "\"");
        String named = good.substring(0, at)
                + good.substring(at)
                        .replaceFirst("<float_array", "<Name_array")
                        .replaceFirst("</float_array", "</Name_array");
        assertThatThrownBy(() -> ColladaReader.read(text(named), "names.dae", null, Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("names");
        int vertexWeights = good.indexOf("<vertex_weights");
        String far = good.substring(0, vertexWeights)
                + good.substring(vertexWeights).replaceFirst("offset=\"1\"", "offset=\"2147483647\"");
        assertThatThrownBy(() -> ColladaReader.read(text(far), "far.dae", null, Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("offsets");
    }

    /** A polygon whose twenty thousand corners lie at random crosses itself everywhere, and is cut all the same. */
    @Test
    public void aPolygonThatCrossesItselfAllOverIsCut() throws Exception {
        Random random = new Random(1);
        StringBuilder obj = new StringBuilder();
        StringBuilder face = new StringBuilder("f");
        for (int i = 1; i <= 20_000; i++) {
            obj.append("v ")
                    .append(random.nextFloat())
                    .append(' ')
                    .append(random.nextFloat())
                    .append(" 0\n");
            face.append(' ').append(i);
        }
        Asset read = ObjReader.read(text(obj + face.toString() + "\n"), "knot.obj", null, Work.QUIET);
        assertThat(read.meshes().getFirst().triangleCount()).isEqualTo(19_998);
    }

    @Test
    public void whatAFormatCannotHoldAtAllIsRefusedBeforeAnyFile() {
        Asset bare = RandomAssets.of(3);
        Asset meshless = bare.withNodes(
                        bare.nodes().stream().map(n -> n.withMesh(-1, -1)).toList())
                .withMeshes(List.of());
        for (String ending : List.of("obj", "ply")) {
            assertThatThrownBy(() -> AssetFiles.write(meshless, ending, "x", Work.QUIET))
                    .isInstanceOf(Refused.class)
                    .hasMessageContaining("no mesh");
        }
        Asset person = StickFigure.of(1.8);
        Sampler long1 = new Sampler(
                Sampler.Interpolation.LINEAR,
                new float[] {0, 1e8f},
                new float[] {0, 0, 0, 1, 0, 0, 0, 1},
                4,
                Storage.FLOAT);
        Clip ages = new Clip(
                "ages",
                List.of(new Channel(0, Channel.Path.ROTATION, long1, "", Passthrough.NONE)),
                30,
                false,
                true,
                Passthrough.NONE);
        assertThatThrownBy(() -> AssetFiles.write(person.withClips(List.of(ages)), "bvh", "x", Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("ages");
    }

    @Test
    public void coloursOfTwoNumbersAreLeftOutAndUnnamedClipsGetFilesOfTheirOwn() throws Exception {
        Asset asset = StickFigure.of(1.8);
        Mesh mesh = asset.meshes().getFirst();
        Primitive p = mesh.primitives().getFirst();
        Attribute odd = new Attribute("COLOR_0", 2, new float[p.vertexCount() * 2], Storage.FLOAT);
        Asset coloured = asset.withMesh(0, mesh.withPrimitives(List.of(p.withAttributes(List.of(odd)))));
        for (String ending : List.of("obj", "ply", "dae")) {
            assertThat(AssetFiles.write(coloured, ending, "x", Work.QUIET).pieces())
                    .isNotEmpty();
        }
        List<Clip> clips = new ArrayList<>();
        for (int i = 0; i < 2; i++) {
            Sampler s = new Sampler(
                    Sampler.Interpolation.LINEAR,
                    new float[] {0, 1},
                    new float[] {0, 0, 0, 1, 0, 0, 0, 1},
                    4,
                    Storage.FLOAT);
            clips.add(new Clip(
                    "",
                    List.of(new Channel(0, Channel.Path.ROTATION, s, "", Passthrough.NONE)),
                    30,
                    false,
                    true,
                    Passthrough.NONE));
        }
        Written written = AssetFiles.write(asset.withClips(clips), "bvh", "take", Work.QUIET);
        assertThat(written.pieces())
                .extracting(Written.Piece::name)
                .containsExactly("take_clip_0.bvh", "take_clip_1.bvh");
        assertThat(BvhReader.read(written.pieces().getLast().bytes(), "t.bvh", Work.QUIET)
                        .clips())
                .hasSize(1);
    }

    @Test
    public void materialsOfOtherTypesThanTheStandardsAreRefused() {
        for (String member : List.of(
                "\"alphaMode\": 3",
                "\"emissiveFactor\": [1, 2]",
                "\"alphaCutoff\": \"half\"",
                "\"normalTexture\": {\"index\": 7}",
                "\"pbrMetallicRoughness\": {\"roughnessFactor\": []}")) {
            String json = "{\"asset\": {\"version\": \"2.0\"}, \"materials\": [{" + member + "}]}";
            assertThatThrownBy(() -> GltfReader.read(text(json), "m.gltf", null, Work.QUIET))
                    .as(member)
                    .isInstanceOf(ReadFailed.class)
                    .hasMessageContaining("materials[0]");
        }
    }

    /** glTF 2.0, 5.4.1: an animation has a channel; one that lost all of them is still written, and read again. */
    @Test
    public void aClipWithoutChannelsIsWrittenAndReadAgain() throws Exception {
        Asset asset =
                StickFigure.of(1.8).withClips(List.of(new Clip("still", List.of(), 30, false, true, Passthrough.NONE)));
        Asset back = GltfReader.read(GltfWriter.glb(asset), "still.glb", null, Work.QUIET);
        assertThat(back.clips()).extracting(Clip::name).containsExactly("still");
    }

    /** OBJ and PLY allow normals of any length (common practice); glTF 2.0, 3.7.2.1 wants unit length. */
    @Test
    public void normalsOfAnyLengthAreBroughtToOne() throws Exception {
        Asset read = ObjReader.read(
                text("v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 0 0 5\nvn 0 3 4\nf 1//1 2//2 3//1\n"), "n.obj", null, Work.QUIET);
        float[] n = read.meshes().getFirst().primitives().getFirst().normals();
        for (int v = 0; v < 3; v++) {
            assertThat(Math.sqrt(n[v * 3] * n[v * 3] + n[v * 3 + 1] * n[v * 3 + 1] + n[v * 3 + 2] * n[v * 3 + 2]))
                    .isCloseTo(1, org.assertj.core.api.Assertions.within(1e-6));
        }
    }
}
