package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.withPrecision;

import java.nio.charset.StandardCharsets;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.formats.xml.XmlNode;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.work.Work;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Every way in which a text file can be wrong gives a message with its line, and what is only unusual is read. */
public class MalformedTest {
    private static Asset read(String ending, byte[] bytes) throws ReadFailed {
        String file = "x." + ending;
        return switch (ending) {
            case "obj" -> ObjReader.read(bytes, file, null, Work.QUIET);
            case "ply" -> PlyReader.read(bytes, file, Work.QUIET);
            case "bvh" -> BvhReader.read(bytes, file, Work.QUIET);
            default -> ColladaReader.read(bytes, file, null, Work.QUIET);
        };
    }

    private static final String PLY = "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\n"
            + "property float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n";

    private static final String BVH =
            "HIERARCHY\nROOT hips\n{\nOFFSET 0 0 0\nCHANNELS 3 Xposition Yposition Zposition\n"
                    + "End Site\n{\nOFFSET 0 1 0\n}\n}\nMOTION\n";

    @DataProvider
    public Object[][] wrong() {
        return new Object[][] {
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1\nf 1 2 3\n", "line 3", "number"},
            {"obj", "v 0 0 0\nv 1,5 0 0\n", "line 2", "decimal point"},
            {"obj", "v 0 0 NaN\n", "line 1", "number"},
            {"obj", "v 0 0 1e999\n", "line 1", "number"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n", "line 4", "there are 3 vertices"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf -1 -2 -4\n", "line 4", "there are 3 vertices"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n", "line 4", "number 0"},
            {"obj", "v 0 0 0\nv 1 0 0\nf 1 2\n", "line 3", "3 corners"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1/1 2/1 3/1\n", "line 4", "texture coordinates"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1//1 2//1 3//1\n", "line 4", "normals"},
            {"obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 99999999999\n", "line 4", "whole number"},
            {"obj", "# nothing\n", "line", "expected vertices"},
            {"obj", "", "line 1", "expected vertices"},
            {"ply", "plyx\n", "header", "end_header"},
            {"ply", PLY + "0 0 0\n1 0 0\n", "line", "too short"},
            {"ply", PLY + "0 0 0\n1 0 0\n0 1 0\n3 0 1 3\n", "line", "names number 3"},
            {"ply", PLY + "0 0 0\n1 0 0\n0 1,5 0\n3 0 1 2\n", "line 12", "decimal point"},
            {"ply", PLY.replace("vertex 3", "vertex 2000000000") + "0 0 0\n", "line", "2000000000"},
            {"ply", PLY.replace("vertex 3", "vertex 99999999999") + "0 0 0\n", "line 3", "whole number"},
            {"ply", PLY.replace("float y", "flaot y") + "0 0 0\n", "line 5", "flaot"},
            {"ply", PLY.replace("ascii", "gothic") + "0 0 0\n", "line", "ascii"},
            {"bvh", "HIERARCHY\nROOT hips\n{\nOFFSET 0 0\n", "line 4", "number"},
            {"bvh", "HIERARCHY\nMOTION\n", "line 2", "ROOT"},
            {"bvh", BVH + "Frames: 2\nFrame Time: 0.04\n1 2 3\n", "line", "frame 1 of 2"},
            {"bvh", BVH + "Frames: 99999999\nFrame Time: 0.04\n1 2 3\n", "line", "99999999"},
            {"bvh", BVH + "Frames: 1\nFrame Time: 0\n1 2 3\n", "line", "above zero"},
            {"bvh", BVH + "Frames: 1\nFrame Time: 0,04\n1 2 3\n", "line", "decimal point"},
            {"bvh", BVH + "Frames: 1\nFrame Time: 0.04\n1 2 inf\n", "line", "number"},
            {"bvh", BVH.replace("Xposition", "Xwards") + "Frames: 0\nFrame Time: 0.04\n", "line 5", "Xwards"},
            {"bvh", BVH.replace("CHANNELS 3", "CHANNELS 9") + "Frames: 0\nFrame Time: 1\n", "line 5", "9"},
            {"bvh", BVH.substring(0, 35), "line", "ends too early"},
        };
    }

    @Test(dataProvider = "wrong")
    public void aWrongFileSaysWhereAndWhat(String ending, String text, String where, String what) {
        for (String breaks : new String[] {"\n", "\r\n", "\r"}) {
            byte[] bytes = text.replace("\n", breaks).getBytes(StandardCharsets.UTF_8);
            assertThatThrownBy(() -> read(ending, bytes))
                    .as(ending + " " + text)
                    .isInstanceOf(ReadFailed.class)
                    .hasMessageContaining("x." + ending)
                    .hasMessageContaining(where)
                    .hasMessageContaining(what);
        }
    }

    private static final String TRIANGLE = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n";

    @DataProvider
    public Object[][] unusual() {
        return new Object[][] {
            {TRIANGLE.replace("\n", "\r\n").getBytes(StandardCharsets.US_ASCII)},
            {TRIANGLE.replace("\n", "\r").getBytes(StandardCharsets.US_ASCII)},
            {("\uFEFF" + TRIANGLE).getBytes(StandardCharsets.UTF_8)},
            {("\uFEFF" + TRIANGLE).getBytes(StandardCharsets.UTF_16LE)},
            {("\uFEFF" + TRIANGLE).getBytes(StandardCharsets.UTF_16BE)},
            {TRIANGLE.replace(" ", "\t  ").getBytes(StandardCharsets.US_ASCII)},
            {TRIANGLE.strip().getBytes(StandardCharsets.US_ASCII)},
            {TRIANGLE.replace("f 1 2 3", "f 1 \\\n 2 \\\n 3").getBytes(StandardCharsets.US_ASCII)},
            {TRIANGLE.replace("1 0 0", "+1.0e0 -0 .0").getBytes(StandardCharsets.US_ASCII)},
            {("curv 1 2\nwhatever\n" + TRIANGLE).getBytes(StandardCharsets.US_ASCII)},
        };
    }

    @Test(dataProvider = "unusual")
    public void whatIsOnlyUnusualIsRead(byte[] bytes) throws ReadFailed {
        Mesh mesh = read("obj", bytes).meshes().getFirst();
        assertThat(mesh.primitives().getFirst().positions())
                .containsExactly(new float[] {0, 0, 0, 1, 0, 0, 0, 1, 0}, withPrecision(0f));
        assertThat(mesh.primitives().getFirst().triangleCorners()).containsExactly(0, 1, 2);
    }

    @Test
    public void aTreeOfElementsKnowsItsLinesAndTakesNothingFromOutside() throws Exception {
        XmlNode root = XmlNode.parse(
                "<a id='1'>\n <b n='2'>x &amp; y</b>\n <b/>\n <c>1 2\n 3</c>\n</a>".getBytes(StandardCharsets.UTF_8),
                "t.xml");
        assertThat(root.name()).isEqualTo("a");
        assertThat(root.all("b")).hasSize(2);
        assertThat(root.find("b").orElseThrow().text()).isEqualTo("x & y");
        assertThat(root.find("b").orElseThrow().line()).isEqualTo(2);
        assertThat(root.find("b", "z")).isEmpty();
        assertThat(root.find("c").orElseThrow().floats()).containsExactly(1, 2, 3);
        assertThat(root.find("c").orElseThrow().wholes()).containsExactly(1, 2, 3);
        assertThat(root.byId()).containsOnlyKeys("1");
        assertThatThrownBy(() -> root.find("c").orElseThrow().count("n")).hasMessageContaining("line 4");
        for (String attack : new String[] {
            "<!DOCTYPE a [<!ENTITY x SYSTEM 'file:///etc/hostname'>]><a>&x;</a>",
            "<!DOCTYPE a [<!ENTITY x 'ha'><!ENTITY y '&x;&x;&x;&x;'>]><a>&y;</a>",
            "<!DOCTYPE a SYSTEM 'http://localhost/a.dtd'><a/>",
        }) {
            assertThatThrownBy(() -> XmlNode.parse(attack.getBytes(StandardCharsets.UTF_8), "t.xml"))
                    .isInstanceOf(ReadFailed.class)
                    .hasMessageContaining("DOCTYPE");
        }
        String deep = "<a>".repeat(5000) + "</a>".repeat(5000);
        assertThatThrownBy(() -> XmlNode.parse(deep.getBytes(StandardCharsets.UTF_8), "t.xml"))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("deeper");
    }
}
