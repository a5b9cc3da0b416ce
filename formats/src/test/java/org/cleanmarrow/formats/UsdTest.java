package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.cleanmarrow.caches.CacheUse;
import org.cleanmarrow.convention.Axis;
import org.cleanmarrow.formats.delivery.Delivery;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.usd.UsdReader;
import org.cleanmarrow.geometry.PointTree;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.Pose;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.caches.BakeCache;
import org.cleanmarrow.surface.Strands;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** USD text and packages: what we write is read by another library and by us, and what others may write is read right. */
public class UsdTest {
    private static Asset read(String text) throws ReadFailed {
        return UsdReader.read(text.getBytes(StandardCharsets.UTF_8), "scene.usda", null, Work.QUIET);
    }

    /** Every vertex of an asset that a triangle uses, in its world. */
    private static float[] points(Asset asset, Clip clip, double seconds) {
        Deformer deformer = new Deformer(asset);
        Pose pose = clip == null ? new Rig(asset).rest() : new Rig(asset).at(clip, seconds);
        List<Float> out = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
            float[] at = new float[3 * deformer.vertexCount(place)];
            deformer.deform(place, pose, pose.world(), new Matrix4d(), at, null, false);
            int first = 0;
            for (Primitive p : asset.meshes().get(place.mesh()).primitives()) {
                for (int corner : p.triangleCorners()) {
                    for (int k = 0; k < 3; k++) {
                        out.add(at[3 * (first + corner) + k]);
                    }
                }
                first += p.vertexCount();
            }
        }
        float[] all = new float[out.size()];
        for (int i = 0; i < all.length; i++) {
            all[i] = out.get(i);
        }
        return all;
    }

    private static void lieOn(float[] points, float[] others, double near, String what) {
        assertThat(points).as(what).isNotEmpty();
        PointTree tree = new PointTree(others);
        for (int i = 0; i < points.length; i += 3) {
            assertThat(tree.nearestDistance(points[i], points[i + 1], points[i + 2]))
                    .as(what)
                    .isLessThan(near);
        }
    }

    /** three.js puts every vertex where we have it, at rest and in between, whatever keys, skin or package. */
    @Test
    public void anotherReaderSeesWhatWeWrite() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        for (String ending : List.of("usda", "usdz")) {
            Asset asset = RandomAssets.of(6);
            Asset one = asset.withClips(List.of(asset.clips().get(asset.findClip("linear"))));
            Written written = AssetFiles.write(one, ending, "six", Work.QUIET);
            Path file = folder.resolve(written.pieces().getFirst().name());
            Files.write(file, written.pieces().getFirst().bytes());
            Asset meant = written.pieces().getFirst().meant();
            Clip clip = meant.clips().getFirst();
            // Theirs begins at its first key.
            double middle = 0.37 * clip.start() + 0.63 * clip.end();
            JsonNode theirs = JsonMapper.shared()
                    .readTree(Witness.node(
                            "usd.mjs", file.toString(), Double.toString(clip.end()), Double.toString(middle)));
            assertThat(theirs.path("clips").size()).isPositive();
            for (JsonNode moment : theirs.path("moments")) {
                double seconds = moment.path("seconds").isNull()
                        ? -1
                        : moment.path("seconds").doubleValue();
                float[] ours = points(meant, seconds < 0 ? null : clip, seconds);
                float[] found = new float[moment.path("points").size()];
                double size = 1;
                for (int i = 0; i < found.length; i++) {
                    found[i] = (float) moment.path("points").get(i).doubleValue();
                    size = Math.max(size, Math.abs(found[i]));
                }
                lieOn(ours, found, 1e-4 * size, ending + " ours at " + seconds);
                lieOn(found, ours, 1e-4 * size, ending + " theirs at " + seconds);
            }
        }
    }

    /** Written, read and compared by the proof of a delivery, with every clip in a file of its own. */
    @Test
    public void randomAssetsComeBackAsTheyWere() throws Exception {
        for (long seed = 1; seed <= 5; seed++) {
            Asset asset = RandomAssets.of(seed);
            Path folder = Files.createTempDirectory("marrow");
            Delivery.Delivered delivered = Delivery.deliver(asset, folder, seed % 2 == 0 ? "usda" : "usdz", Work.QUIET);
            assertThat(delivered.files()).hasSize(3);
            assertThat(delivered.landing().largestMetres()).as("seed " + seed).isLessThan(1e-3);
            Asset back = AssetFiles.open(delivered.files().get(1), Work.QUIET);
            assertThat(back.clips().getFirst().name())
                    .isEqualTo(asset.clips().get(1).name());
            assertThat(back.conventions()).isEqualTo(asset.conventions());
            for (int j : asset.skins().getFirst().joints()) {
                assertThat(back.findNode(asset.nodes().get(j).name())).isNotNegative();
            }
        }
    }

    @Test
    public void cachesAreSamplesOfPoints() throws Exception {
        Asset asset = RandomAssets.of(7);
        Asset baked = new BakeCache("crate", "linear").apply(asset, Work.QUIET).asset();
        Asset one = baked.withClips(List.of(baked.clips().get(baked.findClip("linear_cache"))));
        Written written = AssetFiles.write(one, "usda", "seven", Work.QUIET);
        Asset meant = written.pieces().getFirst().meant();
        Asset back = UsdReader.read(written.pieces().getFirst().bytes(), "seven.usda", null, Work.QUIET);
        assertThat(CacheUse.all(back)).hasSameSizeAs(CacheUse.all(meant)).isNotEmpty();
        Clip clip = meant.clips().getFirst();
        for (double t = clip.start(); t <= clip.end(); t += 0.01) {
            float[] a = points(meant, clip, t);
            float[] b = points(back, back.clips().getFirst(), t);
            double size = 1;
            for (float x : a) {
                size = Math.max(size, Math.abs(x));
            }
            lieOn(a, b, 1e-5 * size, "ours at " + t);
            lieOn(b, a, 1e-5 * size, "read at " + t);
        }
    }

    /** The package's data begin at a multiple of 64 bytes, stored as they are (the specification of USDZ). */
    @Test
    public void aPackageStoresItsSceneAtAMultipleOfSixtyFour() throws Exception {
        byte[] zip = AssetFiles.write(RandomAssets.of(3), "usdz", "three", Work.QUIET)
                .pieces()
                .getFirst()
                .bytes();
        byte[] text = AssetFiles.write(RandomAssets.of(3), "usda", "three", Work.QUIET)
                .pieces()
                .getFirst()
                .bytes();
        ByteBuffer in = ByteBuffer.wrap(zip).order(ByteOrder.LITTLE_ENDIAN);
        assertThat(in.getInt(0)).isEqualTo(0x04034B50);
        assertThat(in.getShort(8)).as("stored").isZero();
        int data = 30 + in.getShort(26) + in.getShort(28);
        assertThat(data % 64).isZero();
        byte[] held = new byte[text.length];
        in.position(data).get(held);
        assertThat(held).isEqualTo(text);
        assertThat(AssetFiles.write(RandomAssets.of(3), "usdz", "three", Work.QUIET)
                        .pieces()
                        .getFirst()
                        .bytes())
                .isEqualTo(zip);
    }

    /** Worked by hand: a joint bound at (0, 1, 0), half turned about z by 90 degrees: (0, 2, 0) comes to (-1, 1, 0), with half the weight to half. */
    @Test
    public void aSkinnedPointWorkedByHandComesOut() throws Exception {
        Asset asset = read("""
                #usda 1.0
                ( metersPerUnit = 1 upAxis = "Y" timeCodesPerSecond = 10 )
                def SkelRoot "body" ( prepend apiSchemas = ["SkelBindingAPI"] )
                {
                    rel skel:animationSource = </body/anim>
                    rel skel:skeleton = </body/skel>
                    def Skeleton "skel"
                    {
                        uniform token[] joints = ["hip", "hip/knee"]
                        uniform matrix4d[] bindTransforms = [
                            ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,0,0,1)), ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1))]
                        uniform matrix4d[] restTransforms = [
                            ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,0,0,1)), ((1,0,0,0),(0,1,0,0),(0,0,1,0),(0,1,0,1))]
                    }
                    def SkelAnimation "anim"
                    {
                        uniform token[] joints = ["hip/knee"]
                        float3[] translations = [(0, 1, 0)]
                        half3[] scales = [(1, 1, 1)]
                        quatf[] rotations.timeSamples = {
                            0: [(1, 0, 0, 0)],
                            10: [(0.70710678, 0, 0, 0.70710678)],
                        }
                    }
                    def Mesh "leg"
                    {
                        int[] faceVertexCounts = [3]
                        int[] faceVertexIndices = [0, 1, 2]
                        point3f[] points = [(0, 2, 0), (0, 2, 0), (1, 0, 0)]
                        int[] primvars:skel:jointIndices = [1, 0, 0, 1, 0, 0] ( elementSize = 2 interpolation = "vertex" )
                        float[] primvars:skel:jointWeights = [1, 0, 0.5, 0.5, 1, 0] ( elementSize = 2 interpolation = "vertex" )
                    }
                }
                """);
        float[] turned = points(asset, asset.clips().getFirst(), 1);
        assertThat(turned[0]).isCloseTo(-1, within(1e-5f));
        assertThat(turned[1]).isCloseTo(1, within(1e-5f));
        assertThat(turned[3]).isCloseTo(-0.5f, within(1e-5f));
        assertThat(turned[4]).isCloseTo(1.5f, within(1e-5f));
        assertThat(turned[6]).isCloseTo(1, within(1e-5f));
        Influences rows = asset.meshes().getFirst().primitives().getFirst().influences();
        assertThat(rows.rowLength(0)).isEqualTo(1);
    }

    /** What others write: corners with their own normals, squares, subsets, left-handed faces, ordered operations, curves, fallbacks. */
    @Test
    public void aSceneOfOthersIsReadRight() throws Exception {
        Asset asset = read("""
                #usda 1.0
                (
                    "A scene by hand"
                    upAxis = "Z"
                )
                class "prototype" { }
                def Xform "crate" ( kind = "component" )
                {
                    double3 xformOp:translate = (1, 2, 3)
                    float3 xformOp:rotateXYZ = (90, 0, 90)
                    uniform token[] xformOpOrder = ["xformOp:translate", "xformOp:rotateXYZ"]
                    def Mesh "side" ( active = true )
                    {
                        uniform token orientation = "leftHanded"
                        int[] faceVertexCounts = [4, 3]
                        int[] faceVertexIndices = [0, 1, 2, 3, 3, 2, 4]
                        point3f[] points = [(0,0,0), (1,0,0), (1,1,0), (0,1,0), (0,2,0)]
                        normal3f[] normals = [(0,0,-1), (0,0,-1), (0,0,-1), (0,0,-1), (0,1,0), (0,1,0), (0,1,0)] (
                            interpolation = "faceVarying"
                        )
                        texCoord2f[] primvars:st = [(0, 0.25), (1, 1)] ( interpolation = "faceVarying" )
                        int[] primvars:st:indices = [0, 0, 0, 0, 1, 1, 1]
                        def GeomSubset "first" { uniform token elementType = "face"
                            uniform token familyName = "materialBind"
                            int[] indices = [0]
                            rel material:binding = </looks/oak> }
                    }
                    def Mesh "off" ( active = false ) { point3f[] points = [(0, 0, 0)] }
                    def BasisCurves "hair"
                    {
                        uniform token type = "linear"
                        int[] curveVertexCounts = [3, 2]
                        point3f[] points = [(0,0,0), (0,0,1), (0,0,2), (1,0,0), (1,0,1)]
                    }
                }
                def Scope "looks" { def Material "oak" {
                    token outputs:surface.connect = </looks/oak/s.outputs:surface>
                    def Shader "s" { uniform token info:id = "UsdPreviewSurface"
                        color3f inputs:diffuseColor = (0.5, 0.25, 0.125) } } }
                over "nothing" { }
                def Xform "boat" ( references = @other.usda@</boat> ) { }
                """);
        assertThat(asset.conventions().metresPerUnit()).isEqualTo(0.01);
        assertThat(asset.conventions().up()).isEqualTo(Axis.Z);
        assertThat(asset.nodes()).extracting(n -> n.name()).containsExactly("crate", "side", "hair", "boat");
        Mesh side = asset.meshes().getFirst();
        assertThat(side.primitives()).hasSize(2);
        assertThat(asset.materials().getFirst().name()).isEqualTo("oak");
        assertThat(side.primitives().getFirst().material()).isZero();
        assertThat(side.primitives().get(1).material()).isEqualTo(-1);
        // Two points are shown with two normals: a vertex for each.
        assertThat(side.vertexCount()).isEqualTo(7);
        assertThat(side.primitives()
                        .getFirst()
                        .attribute("TEXCOORD_0")
                        .orElseThrow()
                        .values()[1])
                .isEqualTo(0.75f);
        assertThat(side.primitives().getFirst().normals()[2]).isEqualTo(-1);
        // Left-handed faces are turned round: from below they run counter-clockwise.
        int[] corners = side.primitives().getFirst().triangleCorners();
        float[] p = side.primitives().getFirst().positions();
        float ux = p[3 * corners[1]] - p[3 * corners[0]];
        float uy = p[3 * corners[1] + 1] - p[3 * corners[0] + 1];
        float vx = p[3 * corners[2]] - p[3 * corners[0]];
        float vy = p[3 * corners[2] + 1] - p[3 * corners[0] + 1];
        assertThat(ux * vy - uy * vx).isNegative();
        // About x first, then about z: y goes to z, and x to y.
        Matrix4d world = new Rig(asset).rest().world()[0];
        assertThat(world.transformPosition(new Vector3d(0, 1, 0)).distance(1, 2, 4))
                .isLessThan(1e-6);
        assertThat(world.transformPosition(new Vector3d(1, 0, 0)).distance(1, 3, 3))
                .isLessThan(1e-6);
        assertThat(Strands.counts(asset)).containsExactly(new Strands.Count(2, 2, 5));
        assertThat(asset.notes()).anyMatch(n -> n.contains("references at /boat"));
    }

    /** Sublayers of the same folder are read, the stronger over the weaker; none outside of it. */
    @Test
    public void sublayersStayInTheFolder() throws Exception {
        Path folder = Files.createTempDirectory("marrow");
        Files.writeString(
                folder.resolve("weak.usda"),
                "#usda 1.0\ndef Xform \"a\" { double3 xformOp:translate = (9, 9, 9)\n"
                        + "uniform token[] xformOpOrder = [\"xformOp:translate\"] def Xform \"b\" { } }\n");
        Path inner = Files.createDirectory(folder.resolve("inner"));
        Path top = Files.writeString(
                inner.resolve("top.usda"),
                "#usda 1.0\n( subLayers = [@./weak.usda@, @../weak.usda@] )\n"
                        + "over \"a\" { double3 xformOp:translate = (1, 0, 0) }\n");
        Asset alone = AssetFiles.open(top, Work.QUIET);
        assertThat(alone.nodes()).isEmpty();
        assertThat(alone.notes()).anyMatch(n -> n.contains("../weak.usda")).anyMatch(n -> n.contains("./weak.usda"));
        Files.copy(folder.resolve("weak.usda"), inner.resolve("weak.usda"));
        Asset both = AssetFiles.open(top, Work.QUIET);
        assertThat(both.nodes()).extracting(n -> n.name()).containsExactly("a", "b");
        assertThat(both.nodes().getFirst().local().translation()).containsExactly(1, 0, 0);
    }

    /** Clips whose names are alike as files have files of their own; what lies too deep is refused. */
    @Test
    public void filesHaveNamesOfTheirOwnAndDepthIsBounded() throws Exception {
        Asset asset = RandomAssets.of(2);
        Asset alike = asset.withClips(List.of(
                asset.clips().get(0).withName("a b"),
                asset.clips().get(1).withName("A_B"),
                asset.clips().get(2).withName("")));
        for (String ending : List.of("usda", "obj-sequence")) {
            List<String> names = AssetFiles.write(alike, ending, "x", Work.QUIET).pieces().stream()
                    .filter(p -> p.meant() != null)
                    .map(p -> p.name().toLowerCase(Locale.ROOT))
                    .toList();
            assertThat(names).hasSize(3).doesNotHaveDuplicates();
        }
        List<Node> nodes = new ArrayList<>();
        for (int n = 0; n < 300; n++) {
            nodes.add(Node.group("n" + n, Local.IDENTITY, n == 299 ? new int[0] : new int[] {n + 1}));
        }
        Asset deep = Asset.of("deep", asset.conventions(), nodes, List.of(), List.of(), List.of());
        assertThatThrownBy(() -> AssetFiles.write(deep, "usda", "x", Work.QUIET))
                .hasMessageContaining("levels deep");
    }

    @DataProvider
    public Object[][] broken() {
        String mesh = "#usda 1.0\ndef Mesh \"m\" {\n";
        return new Object[][] {
            {"#usda 1.0\ndef Mesh \"m\" {", "too early"},
            {"#usda 1.0\nhello", "def, over or class"},
            {"#usda 1.0\ndef Mesh \"m {\n}", "quotes"},
            {
                mesh
                        + "int[] faceVertexCounts = [3]\nint[] faceVertexIndices = [0, 1, 2]\npoint3f[] points = [(0,0,0)]\n}",
                "0 to 0"
            },
            {
                mesh
                        + "int[] faceVertexCounts = [4]\nint[] faceVertexIndices = [0, 0, 0]\npoint3f[] points = [(0,0,0)]\n}",
                "ask for 4"
            },
            {mesh + "int[] faceVertexCounts = [-3]\n}", "whole numbers"},
            {mesh + "point3f[] points = [(0,0)]\n}", "whole points"},
            {mesh + "point3f[] points = [(0,0,nan)]\n}", "finite"},
            {mesh + "point3f[] points = [(0,0,1e999)]\n}", "finite"},
            {
                mesh
                        + "point3f[] points = [(0,0,0), (1,1,1)]\npoint3f[] points.timeSamples = { 0: [(0,0,0)], 1: [(1,1,1)] }\n}",
                "points at"
            },
            {mesh + "uniform token[] xformOpOrder = [\"xformOp:translate\"]\n}", "not there"},
            {
                "#usda 1.0\ndef Xform \"x\" {\ndouble3 xformOp:translate = (1, 2)\nuniform token[] xformOpOrder = [\"xformOp:translate\"]\n}",
                "expected 3"
            },
            {"#usda 1.0\ndef Skeleton \"s\" {\nuniform token[] joints = [\"a\"]\n}", "matrices for 1"},
            {
                "#usda 1.0\ndef BasisCurves \"c\" {\nint[] curveVertexCounts = [7]\npoint3f[] points = [(0,0,0)]\n}",
                "do not fit"
            },
            {"#usda 1.0\n" + "def Xform \"x\" {".repeat(400), "deeper"},
            {"#usda 1.0\ndef Xform \"x\" {\nint a = " + "(".repeat(900), "deeper"},
            {"PXR-USDC\0\0\0", "binary"},
            {"once upon a time", "#usda"},
        };
    }

    @Test(dataProvider = "broken")
    public void brokenScenesAreRefusedInOneSentence(String text, String expected) {
        assertThatThrownBy(() -> read(text)).isInstanceOf(ReadFailed.class).hasMessageContaining(expected);
    }

    @Test
    public void aBrokenPackageIsRefused() throws Exception {
        byte[] zip = AssetFiles.write(RandomAssets.of(3), "usdz", "three", Work.QUIET)
                .pieces()
                .getFirst()
                .bytes();
        Path file = Files.createTempFile("marrow", ".usdz");
        for (int cut : new int[] {20, 80, zip.length / 2}) {
            Files.write(file, Arrays.copyOf(zip, cut));
            assertThatThrownBy(() -> AssetFiles.open(file, Work.QUIET)).isInstanceOf(ReadFailed.class);
        }
    }
}
