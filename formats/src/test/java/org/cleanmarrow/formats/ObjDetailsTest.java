package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.imageio.ImageIO;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.work.Work;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;

/** What OBJ, MTL and PLY say in their less common lines; and that what comes of it is valid glTF. */
public class ObjDetailsTest {
    private static Asset obj(String text, Path folder) throws Exception {
        return ObjReader.read(text.getBytes(StandardCharsets.UTF_8), "thing.obj", folder, Work.QUIET);
    }

    private static byte[] png() throws Exception {
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        ImageIO.write(new BufferedImage(2, 2, BufferedImage.TYPE_INT_RGB), "png", out);
        return out.toByteArray();
    }

    @Test
    public void materialsColoursOpacityAndPictures() throws Exception {
        Path folder = Files.createTempDirectory("marrow-mtl");
        Files.writeString(
                folder.resolve("two words.mtl"),
                "# made by hand\nnewmtl oil skin\nKd 0.9 0.7 0.1\nd 0.5\n\nnewmtl rope\nKd 0.4\nTr 0.25\n"
                        + "newmtl jumper\nmap_Kd -s 1 1 1 -clamp on pictures\\wool.png\nnewmtl lost\nmap_Kd gone.png\n");
        Files.createDirectory(folder.resolve("pictures"));
        Files.write(folder.resolve("pictures/wool.png"), png());
        Asset asset = obj(
                "mtllib two words.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n"
                        + "usemtl oil skin\nf 1/1 2/2 3/3\nusemtl rope\nf 1/1 2/2 3/3\nusemtl jumper\nf 1/1 2/2 3/3\n"
                        + "usemtl lost\nf 1/1 2/2 3/3\nusemtl nowhere\nf 1/1 2/2 3/3\n",
                folder);
        List<Material> m = asset.materials();
        assertThat(m.stream().map(Material::name).toList())
                .containsExactly("oil skin", "rope", "jumper", "lost", "nowhere");
        assertThat(m.get(0).baseColour()).containsExactly(0.9f, 0.7f, 0.1f, 0.5f);
        assertThat(m.get(1).baseColour()).containsExactly(0.4f, 0.4f, 0.4f, 0.75f);
        assertThat(m.get(2).texture()).isZero();
        assertThat(asset.images()).hasSize(1);
        assertThat(m.get(3).texture()).isEqualTo(-1);
        assertThat(asset.notes()).anyMatch(n -> n.toString().contains("gone.png"));
        valid(asset, "materials");
    }

    @Test
    public void groupsArePartsWhereThereAreNoObjects() throws Exception {
        String corners = "v 0 0 0\nv 1 0 0\nv 0 1 0\n";
        Asset groups = obj(corners + "g hull\nf 1 2 3\ng deck rail\nf 3 2 1\ng hull\nf 1 3 2\n", null);
        assertThat(groups.meshes().stream().map(Mesh::name).toList()).containsExactly("hull", "deck rail");
        assertThat(groups.meshes().getFirst().triangleCount()).isEqualTo(2);
        Asset objects = obj(corners + "o boat\ng hull\nf 1 2 3\ng deck\nf 3 2 1\n", null);
        assertThat(objects.meshes().stream().map(Mesh::name).toList()).containsExactly("boat");
        valid(groups, "groups");
    }

    @Test
    public void normalsPerCornerSplitAVertexAndSharedOnesDoNot() throws Exception {
        String text = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nvn 0 0 1\nvn 1 0 0\nf 1//1 2//1 3//1\nf 2//2 4//2 3//1\n";
        Primitive p = obj(text, null).meshes().getFirst().primitives().getFirst();
        assertThat(p.vertexCount()).isEqualTo(5);
        assertThat(p.indices()).containsExactly(0, 1, 3, 2, 4, 3);
        assertThat(p.normals()).hasSize(15);
        // A face without normals among others: then none are kept, rather than wrong ones.
        String mixed = text + "f 1 2 4\n";
        assertThat(obj(mixed, null).meshes().getFirst().primitives().getFirst().normals())
                .isNull();
    }

    @Test
    public void linesPointsAndColoursAreKept() throws Exception {
        Asset asset = obj("v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 2 0 0 0 0 1\nl 1 2 3\np 1 3\n", null);
        List<Primitive> all = asset.meshes().getFirst().primitives();
        assertThat(all.stream().map(Primitive::mode).toList())
                .containsExactly(Primitive.Mode.LINES, Primitive.Mode.POINTS);
        assertThat(all.getFirst().indices()).containsExactly(0, 1, 1, 2);
        assertThat(all.get(1).vertexCount()).isEqualTo(2);
        assertThat(all.getFirst().attribute("COLOR_0").orElseThrow().values())
                .containsExactly(1, 0, 0, 0, 1, 0, 0, 0, 1);
        valid(asset, "lines");
    }

    @Test
    public void plyColoursNormalsAndWhatIsPassedOver() throws Exception {
        String text = "ply\nformat ascii 1.0\ncomment a cloud\nelement vertex 2\nproperty double x\nproperty double y\n"
                + "property double z\nproperty float nx\nproperty float ny\nproperty float nz\nproperty uchar red\n"
                + "property uchar green\nproperty uchar blue\nproperty float wetness\nelement edge 1\n"
                + "property int vertex1\nproperty list uchar float way\nend_header\n"
                + "0 1 2 0 1 0 255 0 51 0.5\n3 4 5 1 0 0 0 255 0 0.25\n1 3 0.5 0.5 0.5\n";
        Asset asset = PlyReader.read(text.getBytes(StandardCharsets.UTF_8), "cloud.ply", Work.QUIET);
        Primitive p = asset.meshes().getFirst().primitives().getFirst();
        assertThat(p.mode()).isEqualTo(Primitive.Mode.POINTS);
        assertThat(p.positions()).containsExactly(0, 1, 2, 3, 4, 5);
        assertThat(p.normals()).containsExactly(0, 1, 0, 1, 0, 0);
        assertThat(p.attribute("COLOR_0").orElseThrow().values()).containsExactly(1, 0, 0.2f, 0, 1, 0);
        assertThat(asset.notes()).anyMatch(n -> n.toString().contains("wetness") && n.contains("edge"));
        valid(asset, "cloud");
    }

    @Test
    public void bigEndianIsLittleEndianTurnedRound() throws Exception {
        byte[] little = Files.readAllBytes(Samples.path("cube_binary.ply"));
        String header = new String(little, StandardCharsets.ISO_8859_1);
        int end = header.indexOf("end_header\n") + 11;
        byte[] big = header.substring(0, end).replace("little", "big").getBytes(StandardCharsets.ISO_8859_1);
        byte[] out = java.util.Arrays.copyOf(big, big.length + little.length - end);
        // 8 vertices of three floats, then faces of one byte and ints: every number is turned round by itself.
        int from = end;
        int to = big.length;
        for (int number = 0; number < 24; number++, from += 4, to += 4) {
            turn(little, from, out, to);
        }
        while (from < little.length) {
            int corners = little[from];
            out[to++] = little[from++];
            for (int i = 0; i < corners; i++, from += 4, to += 4) {
                turn(little, from, out, to);
            }
        }
        Primitive a = PlyReader.read(little, "a.ply", Work.QUIET)
                .meshes()
                .getFirst()
                .primitives()
                .getFirst();
        Primitive b = PlyReader.read(out, "b.ply", Work.QUIET)
                .meshes()
                .getFirst()
                .primitives()
                .getFirst();
        assertThat(b.positions()).isEqualTo(a.positions());
        assertThat(b.indices()).isEqualTo(a.indices());
    }

    private static void turn(byte[] from, int at, byte[] to, int into) {
        for (int i = 0; i < 4; i++) {
            to[into + i] = from[at + 3 - i];
        }
    }

    /** The validator of the standard's own group has nothing to say of what comes of it. */
    private static void valid(Asset asset, String name) throws Exception {
        Path file = Files.createTempDirectory("marrow-valid").resolve(name + ".glb");
        Files.write(file, GltfWriter.glb(asset));
        JsonNode verdict = Witness.validated(file);
        assertThat(verdict.path("errors").intValue()).as(verdict.toString()).isZero();
    }
}
