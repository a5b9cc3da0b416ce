package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.cleanmarrow.formats.bvh.BvhReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.gltf.GltfReader;
import org.cleanmarrow.formats.gltf.GltfWriter;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.formats.ply.PlyReader;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * OBJ, PLY and BVH on files that we did not write, against what three.js 0.187 reads from them (OBJLoader, PLYLoader,
 * BVHLoader with AnimationMixer; {@code tools/reference/readers.mjs}, run for real), and on broken ones.
 */
public class TextFormatsTest {
    private static JsonNode witness(String file) throws Exception {
        return JsonMapper.shared()
                .readTree(Witness.node(
                        "readers.mjs", Samples.path(file).toAbsolutePath().toString()));
    }

    private static double[] numbers(JsonNode list) {
        double[] out = new double[list.size()];
        for (int i = 0; i < out.length; i++) {
            out[i] = list.get(i).doubleValue();
        }
        return out;
    }

    /** Each triangle as text, begun at its least corner, so that lists can be compared whatever their order. */
    private static List<String> triangles(double[] corners) {
        List<String> out = new ArrayList<>();
        for (int t = 0; t + 8 < corners.length; t += 9) {
            String[] c = new String[3];
            for (int i = 0; i < 3; i++) {
                c[i] = (float) corners[t + i * 3] + " " + (float) corners[t + i * 3 + 1] + " "
                        + (float) corners[t + i * 3 + 2];
            }
            int first =
                    c[0].compareTo(c[1]) <= 0 ? (c[0].compareTo(c[2]) <= 0 ? 0 : 2) : c[1].compareTo(c[2]) <= 0 ? 1 : 2;
            out.add(c[first] + ", " + c[(first + 1) % 3] + ", " + c[(first + 2) % 3]);
        }
        out.sort(null);
        return out;
    }

    private static double[] corners(Asset asset) {
        List<Double> all = new ArrayList<>();
        for (Mesh mesh : asset.meshes()) {
            for (Primitive p : mesh.primitives()) {
                for (int corner : p.triangleCorners()) {
                    for (int d = 0; d < 3; d++) {
                        all.add((double) p.positions()[corner * 3 + d]);
                    }
                }
            }
        }
        return all.stream().mapToDouble(Double::doubleValue).toArray();
    }

    @Test
    public void objTrianglesAgree() throws Exception {
        for (String file : List.of("spider.obj", "cube_with_vertexcolors.obj")) {
            Asset ours = AssetFiles.open(Samples.path(file), Work.QUIET);
            List<String> theirs = triangles(numbers(witness(file).path("corners")));
            assertThat(theirs).as(file).isNotEmpty();
            assertThat(triangles(corners(ours))).as(file).isEqualTo(theirs);
        }
    }

    /** Area is what a cut must keep, and a fan over a dent does not; taken from Newell's normal of the whole outline. */
    @Test
    public void aConcavePolygonIsCutWithoutOverlap() throws Exception {
        Asset asset = AssetFiles.open(Samples.path("concave_polygon.obj"), Work.QUIET);
        double whole = 0;
        double pieces = 0;
        List<double[]> points = new ArrayList<>();
        for (String line : java.nio.file.Files.readAllLines(Samples.path("concave_polygon.obj"))) {
            String[] words = line.strip().split("\\s+");
            if (words[0].equals("v")) {
                points.add(new double[] {
                    Double.parseDouble(words[1]), Double.parseDouble(words[2]), Double.parseDouble(words[3])
                });
            } else if (words[0].equals("f")) {
                Vector3d normal = new Vector3d();
                for (int i = 1; i < words.length; i++) {
                    double[] a = points.get(Integer.parseInt(words[i].split("/")[0]) - 1);
                    double[] b = points.get(
                            Integer.parseInt(words[i % (words.length - 1) + 1].split("/")[0]) - 1);
                    normal.add(new Vector3d(a[0], a[1], a[2]).cross(new Vector3d(b[0], b[1], b[2])));
                }
                whole += normal.length() / 2;
            }
        }
        double[] c = corners(asset);
        for (int t = 0; t < c.length; t += 9) {
            Vector3d a = new Vector3d(c[t], c[t + 1], c[t + 2]);
            Vector3d u = new Vector3d(c[t + 3], c[t + 4], c[t + 5]).sub(a);
            Vector3d v = new Vector3d(c[t + 6], c[t + 7], c[t + 8]).sub(a);
            pieces += u.cross(v).length() / 2;
        }
        assertThat(pieces).isCloseTo(whole, within(whole * 1e-5));
    }

    @Test
    public void plyVerticesAndFacesAgree() throws Exception {
        for (String file : List.of("cube_binary.ply", "cube.ply")) {
            Primitive p = AssetFiles.open(Samples.path(file), Work.QUIET)
                    .meshes()
                    .getFirst()
                    .primitives()
                    .getFirst();
            JsonNode theirs = witness(file);
            double[] positions = numbers(theirs.path("positions"));
            assertThat(p.positions()).as(file).hasSize(positions.length);
            for (int i = 0; i < positions.length; i++) {
                assertThat((double) p.positions()[i]).isEqualTo(positions[i]);
            }
            double[] index = numbers(theirs.path("index"));
            double[] flat = new double[index.length * 3];
            for (int i = 0; i < index.length; i++) {
                System.arraycopy(positions, (int) index[i] * 3, flat, i * 3, 3);
            }
            assertThat(triangles(corners(AssetFiles.open(Samples.path(file), Work.QUIET))))
                    .isEqualTo(triangles(flat));
        }
    }

    @Test
    public void bvhJointsAreWhereTheyShouldBeAndReadingIsQuick() throws Exception {
        byte[] bytes = java.nio.file.Files.readAllBytes(Samples.path("01_01.bvh"));
        Asset asset = BvhReader.read(bytes, "01_01.bvh", Work.QUIET);
        JsonNode theirs = witness("01_01.bvh");
        assertThat(asset.nodes()).hasSize(theirs.path("bones").size());
        Clip clip = asset.clips().getFirst();
        assertThat(clip.lastFrame() - clip.firstFrame() + 1).isEqualTo(2752);
        assertThat(clip.rate()).isEqualTo(120);
        Rig rig = new Rig(asset);
        for (JsonNode moment : theirs.path("moments")) {
            // The file writes its 1/120 s as .0083333; the others place frames at that, we at the whole rate.
            double seconds = moment.path("seconds").doubleValue() / (.0083333 * 120);
            Matrix4d[] world = rig.at(clip, seconds).world();
            for (int j = 0; j < world.length; j++) {
                Vector3d at = world[j].getTranslation(new Vector3d());
                JsonNode p = moment.path("positions");
                Vector3d expected = new Vector3d(
                        p.get(j * 3).doubleValue(),
                        p.get(j * 3 + 1).doubleValue(),
                        p.get(j * 3 + 2).doubleValue());
                // The figure is about 30 units tall.
                assertThat(at.distance(expected))
                        .as("joint %d at %s s", j, moment.path("seconds"))
                        .isLessThan(30e-5);
            }
        }
    }

    @Test
    public void whatWasReadIsWrittenAndReadAgainTheSame() throws Exception {
        for (String file : List.of("spider.obj", "cube_binary.ply", "point_cloud.obj", "box_UTF16BE.obj")) {
            Asset read = AssetFiles.open(Samples.path(file), Work.QUIET);
            Asset again = GltfReader.read(GltfWriter.glb(read), "x.glb", null, Work.QUIET);
            var motion = MotionProbe.compare(read, again, Work.QUIET);
            assertThat(motion.sameTopology()).as(file).isTrue();
            assertThat(motion.largestMetres()).as(file).isZero();
        }
    }

    @Test
    public void objKeepsTheOrderOfItsVerticesAndItsPartsAndColours() throws Exception {
        String text = "o first\nv 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 1 0\nvt 0 0\nvt 1 0\nvt 0 1\n"
                + "usemtl red\nf 3/1 2/2 1/3\nf -1/2 -2/1 -3/3\no second\nusemtl blue\nf 1 2 4\n";
        Asset asset = ObjReader.read(text.getBytes(StandardCharsets.UTF_8), "two.obj", null, Work.QUIET);
        assertThat(asset.meshes().stream().map(Mesh::name).toList()).containsExactly("first", "second");
        Primitive first = asset.meshes().getFirst().primitives().getFirst();
        // Position 2 is used with two texture coordinates, so it is there twice, side by side.
        assertThat(first.positions()).containsExactly(0, 0, 0, 1, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0);
        assertThat(first.indices()).containsExactly(3, 1, 0, 4, 3, 2);
        assertThat(first.attribute("TEXCOORD_0").orElseThrow().values()[1])
                .as("counted from the top")
                .isZero();
        assertThat(asset.materials().stream().map(m -> m.name()).toList()).containsExactly("red", "blue");
        assertThat(asset.notes()).anyMatch(n -> n.toString().contains("no unit"));
    }

    @DataProvider
    public Object[][] broken() {
        return new Object[][] {
            {"a.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", "line 4"},
            {"a.obj", "v 0 0\n", "line 1"},
            {"a.obj", "v 0 0 0\nv 1,5 0 0\n", "decimal point"},
            {"a.obj", "v 0 0 nan\n", "line 1"},
            {"a.obj", "f 1 2 3\n", "0 vertices"},
            {"a.obj", "v 0 0 0\r\nv 1 0 0\r\nv 0 1 0\r\nf 1 2\r\n", "line 4"},
            {"a.obj", "", "vertices"},
            {"a.obj", "v 0 0 0\nf 99999999999 1 1\n", "whole number"},
            {"a.ply", "ply\nformat ascii 1.0\nelement vertex 2000000000\nproperty float x\nend_header\n0\n", "too short"
            },
            {
                "a.ply",
                "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nend_header\n0 0\n",
                "x, y and z"
            },
            {"a.ply", "ply\nformat morse 1.0\nend_header\n", "format"},
            {"a.ply", "plywood", "end_header"},
            {
                "a.ply",
                "ply\nformat ascii 1.0\nelement vertex 1\nproperty float x\nproperty float y\nproperty float z\n"
                        + "element face 1\nproperty list uchar int vertex_indices\nend_header\n0 0 0\n3 0 0 7\n",
                "names number 7"
            },
            {
                "a.ply",
                "ply\nformat binary_little_endian 1.0\nelement vertex 1\nproperty float x\nproperty float y\n"
                        + "property float z\nelement face 1\nproperty list uint int vertex_indices\nend_header\n"
                        + "\0\0\0\0\0\0\0\0\0\0\0\0\u007f\u007f\u007f\u007f",
                "too short"
            },
            {
                "a.bvh",
                "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 1 Xrotation\n}\nMOTION\nFrames: 2000000000\nFrame Time: 0.1\n1\n",
                "too short"
            },
            {"a.bvh", "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 2 Xrotation Wobble\n}\n", "\"Wobble\""},
            {"a.bvh", "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\n", "ends too early"},
            {"a.bvh", "HIERARCHY\n" + "ROOT a\n{\nOFFSET 0 0 0\n" + "JOINT b\n{\nOFFSET 0 0 0\n".repeat(3000), "deeper"
            },
            {
                "a.bvh",
                "HIERARCHY\nROOT a\n{\nOFFSET 0 0 0\nCHANNELS 1 Xrotation\n}\nMOTION\nFrames: 2\nFrame Time: 0.1\n1\n",
                "frame 1 of 2"
            },
        };
    }

    @Test(dataProvider = "broken")
    public void brokenFilesSayWhatAndWhere(String file, String text, String said) {
        byte[] bytes = text.getBytes(StandardCharsets.ISO_8859_1);
        assertThatThrownBy(() -> read(file, bytes))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining(said)
                .hasMessageStartingWith(file);
    }

    private static Asset read(String file, byte[] bytes) throws ReadFailed {
        return file.endsWith("obj")
                ? ObjReader.read(bytes, file, null, Work.QUIET)
                : file.endsWith("ply")
                        ? PlyReader.read(bytes, file, Work.QUIET)
                        : BvhReader.read(bytes, file, Work.QUIET);
    }

    /** A file of the collection that announces a list of faces within its vertices and then holds none. */
    @Test
    public void aBrokenSampleIsRefusedWithItsLine() {
        assertThatThrownBy(() -> AssetFiles.open(Samples.path("issue623.ply"), Work.QUIET))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("line 16");
    }

    /** Whatever happens to a file, it is read or refused with a message, and quickly. */
    @Test
    public void mutatedFilesNeverBringItDown() throws Exception {
        Random random = new Random(11);
        for (String file : List.of("spider.obj", "cube_binary.ply", "cube.ply", "issue623.ply")) {
            byte[] whole = java.nio.file.Files.readAllBytes(Samples.path(file));
            for (int i = 0; i < 250; i++) {
                byte[] bytes = java.util.Arrays.copyOf(
                        whole, random.nextInt(4) == 0 ? random.nextInt(whole.length) : whole.length);
                for (int k = 0; k < 1 + random.nextInt(6) && bytes.length > 0; k++) {
                    bytes[random.nextInt(bytes.length)] = (byte) random.nextInt(256);
                }
                long start = System.nanoTime();
                try {
                    assertThat(read(file, bytes)).isNotNull();
                } catch (ReadFailed e) {
                    assertThat(e.getMessage()).startsWith(file);
                }
                assertThat((System.nanoTime() - start) / 1e9).as("seconds").isLessThan(2);
            }
        }
    }

    @Test
    public void libraryAndPicturesStayInTheFolder() throws Exception {
        Path folder = java.nio.file.Files.createTempDirectory("marrow-obj");
        java.nio.file.Files.writeString(folder.resolve("secret.mtl"), "newmtl m\nKd 1 0 0\n");
        Path inner = java.nio.file.Files.createDirectory(folder.resolve("inner"));
        String text = "mtllib ../secret.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl m\nf 1 2 3\n";
        Asset asset = ObjReader.read(text.getBytes(StandardCharsets.UTF_8), "a.obj", inner, Work.QUIET);
        assertThat(asset.materials().getFirst().baseColour()[1]).isNotZero();
        assertThat(asset.notes()).anyMatch(n -> n.toString().contains("secret.mtl"));
    }
}
