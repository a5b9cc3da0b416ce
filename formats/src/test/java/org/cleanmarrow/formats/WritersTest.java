package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.concurrent.TimeUnit;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.obj.ObjReader;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.skeleton.AddRoot;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * OBJ, PLY and BVH as we write them: read back by ourselves to the last bit, and by three.js 0.187 run for real
 * ({@code tools/reference/readers.mjs}).
 */
public class WritersTest {
    private static Path folder() throws Exception {
        return Files.createTempDirectory("written");
    }

    private static Path put(Path folder, Written written) throws Exception {
        for (Written.Piece piece : written.pieces()) {
            Files.write(folder.resolve(piece.name()), piece.bytes());
        }
        return folder.resolve(written.pieces().getFirst().name());
    }

    private static JsonNode witness(Path file) throws Exception {
        return JsonMapper.shared().readTree(Witness.node("readers.mjs", file.toString()));
    }

    private static final String POLYGONS = """
            mtllib none.mtl
            o crate lid
            v 0 0 0
            v 1 0 0
            v 1 1 0
            v 0 1 0
            v 0.1 0.30000001 1
            vt 0 0
            vt 1 0.7
            vt 0.3 1
            vn 0 0 1
            vn 0 1 0
            g top
            s 1
            usemtl red
            f 1/1/1 2/2/1 3/3/1 4/1/1
            g side wall
            s 4
            f -5//2 -4//2 -1//2
            s off
            usemtl blue
            f 2//1 3//1 5//1
            f 1//1 2//1 3//1 5//1 4//1
            """;

    @Test
    public void polygonsGroupsAndSmoothingComeBackAsTheyWere() throws Exception {
        Asset asset = ObjReader.read(POLYGONS.getBytes(), "crate.obj", null, Work.QUIET);
        Mesh mesh = asset.meshes().getFirst();
        assertThat(mesh.name()).isEqualTo("crate lid");
        // What has no texture coordinates lies in the same material, so the piece as a whole goes without.
        Faces red = mesh.primitives().getFirst().layout().faces();
        assertThat(red.count()).isEqualTo(2);
        assertThat(red.starts()).containsExactly(0, 4, 7);
        assertThat(red.smoothing()).containsExactly(1, 4);
        assertThat(Arrays.stream(red.groups()).mapToObj(red.groupNames()::get).toList())
                .containsExactly("top", "side wall");
        Faces blue = mesh.primitives().get(1).layout().faces();
        assertThat(blue.starts()).containsExactly(0, 3, 8);
        assertThat(blue.beyondTriangles()).isEqualTo(1);
        Written written = AssetFiles.write(asset, "obj", "crate", Work.QUIET);
        String text = new String(written.pieces().getFirst().bytes());
        assertThat(text.lines().filter(l -> l.startsWith("v "))).hasSize(5);
        assertThat(text).contains("o crate lid\n", "g top\n", "s 1\n", "g side wall\n", "s off\n");
        assertThat(text.lines().filter(l -> l.startsWith("f ")).map(l -> l.split(" ").length - 1))
                .containsExactly(4, 3, 3, 5);
        Asset back = ObjReader.read(written.pieces().getFirst().bytes(), "crate.obj", null, Work.QUIET);
        for (int p = 0; p < 2; p++) {
            Primitive was = mesh.primitives().get(p);
            Primitive is = back.meshes().getFirst().primitives().get(p);
            assertThat(is.layout().faces()).isEqualTo(was.layout().faces());
            assertThat(is.positions()).containsExactly(was.positions());
            assertThat(is.normals()).containsExactly(was.normals());
            assertThat(is.indices()).containsExactly(was.indices());
        }
    }

    /** The triangles that are drawn are cut from the kept polygons, corner for corner. */
    @Test
    public void trianglesLieInTheirPolygons() throws Exception {
        for (String file : List.of("spider.obj", "concave_polygon.obj", "sphere.dae", "regr01.dae", "cube.ply")) {
            for (Mesh mesh : Samples.read(file).meshes()) {
                for (Primitive p : mesh.primitives()) {
                    Faces faces = p.layout().faces();
                    if (faces == null) {
                        continue;
                    }
                    int[] triangles = p.triangleCorners();
                    int at = 0;
                    for (int f = 0; f < faces.count(); f++) {
                        int from = faces.starts()[f];
                        int to = faces.starts()[f + 1];
                        for (int t = 0; t < to - from - 2; t++, at += 3) {
                            for (int c = 0; c < 3; c++) {
                                int corner = triangles[at + c];
                                assertThat(Arrays.stream(faces.corners(), from, to)
                                                .anyMatch(x -> x == corner))
                                        .as("%s polygon %d", file, f)
                                        .isTrue();
                            }
                        }
                    }
                    assertThat(at).as(file).isEqualTo(triangles.length);
                }
            }
        }
    }

    @Test
    public void shapesComeBackToTheLastBit() throws Exception {
        for (String file : List.of("spider.obj", "BoxTextured.gltf", "cube_with_vertexcolors.obj", "sphere.dae")) {
            Asset asset = Samples.read(file);
            Path folder = folder();
            Written written = AssetFiles.write(asset, "obj", "shape", Work.QUIET);
            Asset back = AssetFiles.open(put(folder, written), Work.QUIET);
            Asset meant = written.pieces().getFirst().meant();
            assertThat(back.conventions()).as(file).isEqualTo(asset.conventions());
            assertThat(back.meshes()).hasSameSizeAs(meant.meshes());
            for (int m = 0; m < back.meshes().size(); m++) {
                assertThat(back.meshes().get(m).primitives())
                        .hasSameSizeAs(meant.meshes().get(m).primitives());
                for (int p = 0; p < back.meshes().get(m).primitives().size(); p++) {
                    Primitive was = meant.meshes().get(m).primitives().get(p);
                    Primitive is = back.meshes().get(m).primitives().get(p);
                    assertThat(is.positions()).as(file).containsExactly(was.positions());
                    assertThat(is.normals()).as(file).isEqualTo(was.normals());
                    assertThat(is.indices()).as(file).containsExactly(was.indices());
                    was.attribute("TEXCOORD_0")
                            .ifPresent(uv -> assertThat(is.attribute("TEXCOORD_0")
                                            .orElseThrow()
                                            .values())
                                    .as(file)
                                    .containsExactly(uv.values()));
                }
            }
            assertThat(back.materials().stream().map(m -> m.name()).toList())
                    .isEqualTo(asset.materials().stream().map(m -> m.name()).toList());
            assertThat(back.images()).hasSameSizeAs(asset.images());
        }
    }

    @Test
    public void theOtherReaderSeesTheSameTriangles() throws Exception {
        for (String ending : List.of("obj", "ply")) {
            Asset asset = RandomAssets.of(5);
            Written written = AssetFiles.write(asset, ending, "figure", Work.QUIET);
            JsonNode theirs = witness(put(folder(), written));
            List<Double> ours = new ArrayList<>();
            for (Mesh mesh : written.pieces().getFirst().meant().meshes()) {
                for (Primitive p : mesh.primitives()) {
                    for (int corner : p.triangleCorners()) {
                        for (int d = 0; d < 3; d++) {
                            ours.add((double) p.positions()[corner * 3 + d]);
                        }
                    }
                }
            }
            List<Double> read = new ArrayList<>();
            if (ending.equals("obj")) {
                theirs.path("corners").forEach(c -> read.add(c.doubleValue()));
            } else {
                JsonNode index = theirs.path("index");
                index.forEach(i -> {
                    for (int d = 0; d < 3; d++) {
                        read.add(theirs.path("positions")
                                .get(i.intValue() * 3 + d)
                                .doubleValue());
                    }
                });
            }
            assertThat(read).as(ending).hasSameSizeAs(ours).isNotEmpty();
            for (int i = 0; i < ours.size(); i++) {
                assertThat(read.get(i)).as("%s number %d", ending, i).isCloseTo(ours.get(i), within(1e-6));
            }
        }
    }

    @Test
    public void takesKeepWorldPositionsOfEveryJoint() throws Exception {
        Asset asset = new AddRoot("root").apply(RandomAssets.of(9), Work.QUIET).asset();
        Written written = AssetFiles.write(asset, "bvh", "take", Work.QUIET);
        assertThat(written.pieces()).hasSize(asset.clips().size());
        double toCentimetres = asset.conventions().metresPerUnit() * 100;
        for (int c = 0; c < asset.clips().size(); c++) {
            Clip clip = asset.clips().get(c);
            Written.Piece piece = written.pieces().get(c);
            Path path = Files.write(folder().resolve("take.bvh"), piece.bytes());
            Asset back = AssetFiles.open(path, Work.QUIET);
            Clip take = back.clips().getFirst();
            double size = RestBox.of(asset).diagonal() * toCentimetres;
            for (int f = 0; f <= take.lastFrame(); f++) {
                Matrix4d[] is = new Rig(back).at(take, f / take.rate()).world();
                Matrix4d[] was =
                        new Rig(asset).at(clip, clip.start() + f / take.rate()).world();
                for (int n = 0; n < back.nodes().size(); n++) {
                    int own = asset.findNode(back.nodes().get(n).name());
                    if (own < 0) {
                        continue;
                    }
                    Vector3d wanted = was[own].getTranslation(new Vector3d()).mul(toCentimetres);
                    assertThat(is[n].getTranslation(new Vector3d()).distance(wanted))
                            .as(
                                    "%s frame %d %s",
                                    clip.name(), f, back.nodes().get(n).name())
                            .isLessThan(2e-6 * size);
                }
            }
            JsonNode theirs = witness(path);
            for (JsonNode moment : theirs.path("moments")) {
                Matrix4d[] is = new Rig(back)
                        .at(take, moment.path("seconds").doubleValue())
                        .world();
                for (int n = 0; n < theirs.path("bones").size(); n++) {
                    int own = back.findNode(theirs.path("bones").get(n).asString());
                    if (own >= 0) {
                        JsonNode p = moment.path("positions");
                        Vector3d at = new Vector3d(
                                p.get(3 * n).doubleValue(),
                                p.get(3 * n + 1).doubleValue(),
                                p.get(3 * n + 2).doubleValue());
                        assertThat(is[own].getTranslation(new Vector3d()).distance(at))
                                .isLessThan(1e-4 * size);
                    }
                }
            }
        }
    }

    @Test
    public void aTakeOfOthersIsWrittenAgainTheSame() throws Exception {
        Asset asset = Samples.read("01_01.bvh");
        Written.Piece piece =
                AssetFiles.write(asset, "bvh", "01_01", Work.QUIET).pieces().getFirst();
        Path path = Files.write(folder().resolve("01_01.bvh"), piece.bytes());
        Asset back = AssetFiles.open(path, Work.QUIET);
        assertThat(back.nodes().stream().map(n -> n.name()).toList())
                .isEqualTo(asset.nodes().stream().map(n -> n.name()).toList());
        var motion = MotionProbe.compare(asset, back, Work.QUIET);
        assertThat(motion.largestMetres()).isLessThan(1e-6);
        assertThat(motion.moments()).isGreaterThan(500);
    }

    @Test
    public void whatAFormatCannotHoldIsSaid() throws Exception {
        Asset several = RandomAssets.of(9);
        assertThatThrownBy(() -> AssetFiles.write(several, "bvh", "x", Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("root");
        assertThatThrownBy(() -> AssetFiles.write(several, "xyz", "x", Work.QUIET))
                .isInstanceOf(Refused.class)
                .hasMessageContaining("glb, gltf, dae");
        assertThat(AssetFiles.write(several, "obj", "x", Work.QUIET).notes())
                .anyMatch(n -> n.contains("joints; one skin;") && n.contains("3 clips"));
    }

    @Test
    public void everyFormatIsDeliveredWithAVersionAndLandsWhereItShould() throws Exception {
        Path folder = folder();
        Asset asset = new AddRoot("root")
                .apply(RandomAssets.of(9), Work.QUIET)
                .asset()
                .withName("crate");
        int version = 1;
        for (String ending : AssetFiles.written()) {
            Delivery.Delivered delivered = Delivery.deliver(asset, folder, ending, Work.QUIET);
            assertThat(delivered.version()).isEqualTo(version++);
            assertThat(delivered.files()).allMatch(Files::exists);
            double size = RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
            // Of COLLADA and USD more is asked elsewhere; USD keeps the scale of joints in 11 bits, and its note says
            // so.
            boolean rounds = List.of("dae", "usda", "usdz").contains(ending);
            assertThat(delivered.landing().largestMetres())
                    .as(ending + delivered.landing())
                    .isLessThan((rounds ? 1e-3 : 1e-5) * size);
            assertThat(delivered.notes().stream().anyMatch(n -> n.contains("half precision")))
                    .isEqualTo(ending.startsWith("usd"));
        }
    }

    /** A surface of 200,000 vertices, read by us and by assimp 5.2 through its command line, in turn. */
    @Test
    public void aFieldOfQuadsHasAsManyTrianglesInTheOtherReader() throws Exception {
        int side = 120;
        StringBuilder text = new StringBuilder();
        Random random = new Random(1);
        for (int i = 0; i < side * side; i++) {
            text.append(String.format("v %.6f %.6f %.6f%n", (i % side) * 0.01, random.nextDouble(), i / side * 0.01));
        }
        for (int r = 0; r + 1 < side; r++) {
            for (int c = 0; c + 1 < side; c++) {
                int a = r * side + c + 1;
                text.append("f ")
                        .append(a)
                        .append(' ')
                        .append(a + 1)
                        .append(' ')
                        .append(a + side + 1);
                text.append(' ').append(a + side).append('\n');
            }
        }
        Path file = Files.writeString(folder().resolve("field.obj"), text.toString());
        Asset asset = AssetFiles.open(file, Work.QUIET);
        assertThat(asset.meshes().getFirst().vertexCount()).isEqualTo(side * side);
        Process process = new ProcessBuilder("assimp", "info", file.toString())
                .redirectErrorStream(true)
                .start();
        String said = new String(process.getInputStream().readAllBytes());
        assertThat(process.waitFor(120, TimeUnit.SECONDS)).isTrue();
        // Another reader finds as many triangles.
        assertThat(said)
                .containsPattern("Faces:\\s+" + asset.meshes().getFirst().triangleCount());
    }

    @Test
    public void unitsOfAnyLengthHaveAShortName() {
        Conventions odd = Conventions.parse("z-up-0.0125m-lh-fwd-x").orElseThrow();
        assertThat(odd.metresPerUnit()).isEqualTo(0.0125);
        assertThat(Conventions.parse(odd.code())).contains(odd);
        assertThat(Conventions.parse("y-up-0m-rh")).isEmpty();
        assertThat(Conventions.parse("y-up-1e999m-rh")).isEmpty();
    }
}
