package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.text.TextOut;
import org.cleanmarrow.geometry.Box;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

/** Corners of COLLADA 1.4.1 one by one, each after the section that it names. */
public class ColladaDetailsTest {
    private static final String SOURCES = source("p", "0 0 0 1 0 0 1 1 0 0 1 0", 4, "X", "Y", "Z")
            + source("n", "0 0 1", 1, "X", "Y", "Z")
            + source("t", "0 0 1 0 1 1 0 1", 4, "S", "T")
            + "<vertices id=\"v\"><input semantic=\"POSITION\" source=\"#p\"/></vertices>";

    private static String source(String id, String numbers, int count, String... names) {
        StringBuilder params = new StringBuilder();
        for (String name : names) {
            params.append("<param name=\"").append(name).append("\" type=\"float\"/>");
        }
        return "<source id=\"" + id + "\"><float_array id=\"" + id + "-a\" count=\"" + count * names.length + "\">"
                + numbers
                + "</float_array><technique_common><accessor source=\"#" + id + "-a\" count=\"" + count + "\" stride=\""
                + names.length + "\">" + params + "</accessor></technique_common></source>";
    }

    private static Asset read(String inside) throws ReadFailed {
        String text = "<COLLADA xmlns=\"http://www.collada.org/2005/11/COLLADASchema\" version=\"1.4.1\">" + inside
                + "</COLLADA>";
        return ColladaReader.read(text.getBytes(StandardCharsets.UTF_8), "x.dae", null, Work.QUIET);
    }

    private static String scene(String nodes) {
        return "<library_visual_scenes><visual_scene id=\"s\">" + nodes + "</visual_scene></library_visual_scenes>";
    }

    private static String geometry(String primitives) {
        return "<library_geometries><geometry id=\"g\" name=\"lid\"><mesh>" + SOURCES + primitives
                + "</mesh></geometry></library_geometries>";
    }

    private static final String INPUTS = "<input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/>"
            + "<input semantic=\"NORMAL\" source=\"#n\" offset=\"1\"/><input semantic=\"TEXCOORD\" source=\"#t\" offset=\"2\""
            + " set=\"0\"/>";

    @DataProvider
    public Object[][] surfaces() {
        return new Object[][] {
            {"<polylist count=\"1\">" + INPUTS + "<vcount>4</vcount><p>0 0 0 1 0 1 2 0 2 3 0 3</p></polylist>", 2},
            {"<polygons count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2 3 0 3</p></polygons>", 2},
            {"<polygons count=\"1\">" + INPUTS + "<ph><p>0 0 0 1 0 1 2 0 2 3 0 3</p><h>0 0 0</h></ph></polygons>", 2},
            {"<triangles count=\"2\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2 0 0 0 2 0 2 3 0 3</p></triangles>", 2},
            {"<tristrips count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 3 0 3 2 0 2</p></tristrips>", 2},
            {"<trifans count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2 3 0 3</p></trifans>", 2},
        };
    }

    /** Chapter 5, "Geometry": however it is written the square has an area of one and faces us. */
    @Test(dataProvider = "surfaces")
    public void everyKindOfPrimitiveIsTheSameSquare(String primitives, int triangles) throws Exception {
        Mesh mesh = read(geometry(primitives)).meshes().getFirst();
        assertThat(mesh.name()).isEqualTo("lid");
        Primitive p = mesh.primitives().getFirst();
        assertThat(p.vertexCount()).isEqualTo(4);
        assertThat(mesh.triangleCount()).isEqualTo(triangles);
        Vector3d area = new Vector3d();
        int[] c = p.triangleCorners();
        for (int t = 0; t < c.length; t += 3) {
            Vector3d a = at(p, c[t]);
            area.add(at(p, c[t + 1]).sub(a).cross(at(p, c[t + 2]).sub(a)));
        }
        assertThat(area.distance(new Vector3d(0, 0, 2))).isLessThan(1e-9);
        assertThat(p.normals()).containsExactly(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1);
        // Texture coordinates count from the bottom in COLLADA, from the top in glTF.
        assertThat(p.attribute("TEXCOORD_0").orElseThrow().values()).containsExactly(0, 1, 1, 1, 1, 0, 0, 0);
    }

    private static Vector3d at(Primitive p, int v) {
        return new Vector3d(p.positions()[v * 3], p.positions()[v * 3 + 1], p.positions()[v * 3 + 2]);
    }

    @Test
    public void oneNodeMayStandInSeveralPlaces() throws Exception {
        Asset asset = read(
                "<library_nodes><node id=\"post\"><translate>0 1 0</translate><instance_geometry url=\"#g\"/></node>"
                        + "</library_nodes>"
                        + geometry("<triangles count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2</p></triangles>")
                        + scene("<node id=\"a\"><translate>5 0 0</translate><instance_node url=\"#post\"/></node>"
                                + "<node id=\"b\"><translate>-5 0 0</translate><instance_node url=\"#post\"/></node>"));
        assertThat(asset.meshes()).hasSize(1);
        assertThat(asset.nodes().stream().filter(n -> n.mesh() == 0)).hasSize(2);
        assertThat(RestBox.of(asset).size().x).isCloseTo(11, within(1e-6));
        assertThat(RestBox.of(asset).min().y).isCloseTo(1, within(1e-6));
    }

    private static String effect(String look) {
        return "<library_effects><effect id=\"e\"><profile_COMMON><technique sid=\"c\"><phong>" + look
                + "</phong></technique></profile_COMMON></effect></library_effects><library_materials><material id=\"m\""
                + " name=\"paint\"><instance_effect url=\"#e\"/></material></library_materials>";
    }

    private static Material material(String look) throws ReadFailed {
        String bound =
                "<bind_material><technique_common><instance_material symbol=\"s\" target=\"#m\"/></technique_common>"
                        + "</bind_material>";
        Asset asset = read(effect(look)
                + geometry("<triangles count=\"1\" material=\"s\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2</p></triangles>")
                + scene("<node id=\"a\"><instance_geometry url=\"#g\">" + bound + "</instance_geometry></node>"));
        return asset.materials().getFirst();
    }

    /** Chapter 7, "Determining Transparency": opaque A_ONE takes alpha, RGB_ZERO takes colour, each times the factor. */
    @Test
    public void coloursAndOpacityAreRead() throws Exception {
        Material red = material("<diffuse><color>1 0 0.5 1</color></diffuse>");
        assertThat(red.name()).isEqualTo("paint");
        assertThat(red.baseColour()).containsExactly(1, 0, 0.5f, 1);
        assertThat(material(
                                "<transparent><color>1 1 1 1</color></transparent><transparency><float>0.25</float></transparency>")
                        .baseColour()[3])
                .isEqualTo(0.25f);
        assertThat(material("<transparent opaque=\"RGB_ZERO\"><color>0.2 0.2 0.2 1</color></transparent>"
                                + "<transparency><float>0.5</float></transparency>")
                        .baseColour()[3])
                .isCloseTo(0.9f, within(1e-6f));
        // What would be wholly unseen is a broken file, and opaque.
        assertThat(material("<transparency><float>0</float></transparency>").baseColour()[3])
                .isEqualTo(1);
    }

    private static String morph(String method) {
        String target = source("q", "0 0 2 1 0 2 1 1 2 0 1 2", 4, "X", "Y", "Z")
                + "<vertices id=\"w\"><input semantic=\"POSITION\" source=\"#q\"/></vertices>";
        return geometry("<triangles count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2</p></triangles>")
                + "<library_geometries><geometry id=\"h\" name=\"raised\"><mesh>" + target
                + "</mesh></geometry></library_geometries><library_controllers><controller id=\"c\"><morph source=\"#g\" method=\""
                + method + "\"><source id=\"mt\"><IDREF_array id=\"mta\" count=\"1\">h</IDREF_array></source>"
                + source("mw", "0.5", 1, "W")
                + "<targets><input semantic=\"MORPH_TARGET\" source=\"#mt\"/><input semantic=\"MORPH_WEIGHT\" source=\"#mw\"/>"
                + "</targets></morph></controller></library_controllers>"
                + scene("<node id=\"a\"><instance_controller url=\"#c\"/></node>");
    }

    /** Chapter 5, "morph": NORMALIZED blends towards the target, RELATIVE adds it. */
    @Test
    public void morphsBlendOrAdd() throws Exception {
        Asset blends = read(morph("NORMALIZED"));
        assertThat(blends.meshes().getFirst().targetNames()).containsExactly("raised");
        assertThat(blends.meshes().getFirst().weights()).containsExactly(0.5f);
        assertThat(RestBox.of(blends).max().z).isCloseTo(1, within(1e-6));
        assertThat(RestBox.of(blends).max().x).isCloseTo(1, within(1e-6));
        Asset adds = read(morph("RELATIVE"));
        assertThat(RestBox.of(adds).max().z).isCloseTo(1, within(1e-6));
        assertThat(RestBox.of(adds).max().x).isCloseTo(1.5, within(1e-6));
    }

    /** Chapter 5, "skin": a vertex goes by the sum of weight x joint x inverse bind x bind shape matrix. */
    @Test
    public void theBindShapeMatrixComesFirst() throws Exception {
        String weights =
                "<joints><input semantic=\"JOINT\" source=\"#j\"/><input semantic=\"INV_BIND_MATRIX\" source=\"#b\"/>"
                        + "</joints><vertex_weights count=\"4\"><input semantic=\"JOINT\" source=\"#j\" offset=\"0\"/>"
                        + "<input semantic=\"WEIGHT\" source=\"#k\" offset=\"1\"/><vcount>1 1 2 1</vcount><v>0 0 0 0 0 1 1 1 1 0</v>"
                        + "</vertex_weights>";
        String identity = "1 0 0 0 0 1 0 0 0 0 1 0 0 0 0 1";
        Asset asset = read(geometry(
                        "<triangles count=\"2\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2 0 0 0 2 0 2 3 0 3</p></triangles>")
                + "<library_controllers><controller id=\"c\"><skin source=\"#g\"><bind_shape_matrix>2 0 0 0 0 2 0 0 0 0 2 0 0 0 0 1"
                + "</bind_shape_matrix><source id=\"j\"><Name_array id=\"ja\" count=\"2\">low high</Name_array></source>"
                + "<source id=\"b\"><float_array id=\"ba\" count=\"32\">" + identity + " " + identity
                + "</float_array><technique_common><accessor source=\"#ba\" count=\"2\" stride=\"16\"><param name=\"T\""
                + " type=\"float4x4\"/></accessor></technique_common></source>" + source("k", "1 0.5", 2, "W") + weights
                + "</skin></controller></library_controllers>"
                + scene(
                        "<node id=\"r\" sid=\"low\" type=\"JOINT\"><node id=\"h\" sid=\"high\" type=\"JOINT\"><translate>0 10 0"
                                + "</translate></node></node><node id=\"m\"><instance_controller url=\"#c\"><skeleton>#r</skeleton>"
                                + "</instance_controller></node>"));
        assertThat(asset.skins().getFirst().joints()).containsExactly(asset.findNode("r"), asset.findNode("h"));
        // Corner 1 by the low joint, corner 3 by the high one, corner 2 half and half; all twice as large.
        Box box = RestBox.of(asset);
        assertThat(box.max().x).isCloseTo(2, within(1e-6));
        assertThat(box.max().y).isCloseTo(12, within(1e-6));
        assertThat(asset.notes()).isEmpty();
    }

    @Test
    public void otherAxesAreWrittenAsTheFormatCan() throws Exception {
        for (String code : List.of("z-up-cm-lh", "y-up-m-lh", "x-up-in-rh", "y-up-m-rh-fwd-x")) {
            Asset asset = new org.cleanmarrow.steps.scale.Convert(
                            Conventions.parse(code).orElseThrow(), false)
                    .apply(RandomAssets.of(2), Work.QUIET)
                    .asset();
            Written written = AssetFiles.write(asset, "dae", "x", Work.QUIET);
            Conventions is = written.pieces().getFirst().meant().conventions();
            assertThat(is.metresPerUnit()).isEqualTo(asset.conventions().metresPerUnit());
            assertThat(is.up().dimension()).isEqualTo(asset.conventions().up().dimension());
            boolean same = is.equals(asset.conventions());
            assertThat(written.notes().stream().anyMatch(n -> n.contains("right-handed")))
                    .isEqualTo(!same);
            Asset back = ColladaReader.read(written.pieces().getFirst().bytes(), "x.dae", null, Work.QUIET);
            assertThat(back.conventions()).isEqualTo(is);
        }
    }

    @Test
    public void picturesCamerasAndLightsGoThereAndBack() throws Exception {
        Path folder = Files.createTempDirectory("dae");
        for (String file : List.of("BoxTextured.gltf", "Cameras.gltf", "lights.dae")) {
            Asset asset = Samples.read(file);
            Written written = AssetFiles.write(asset, "dae", "out", Work.QUIET);
            for (Written.Piece piece : written.pieces()) {
                Files.write(folder.resolve(piece.name()), piece.bytes());
            }
            Asset back = AssetFiles.open(folder.resolve("out.dae"), Work.QUIET);
            assertThat(back.cameras()).hasSameSizeAs(asset.cameras());
            assertThat(back.nodes().stream().filter(n -> n.camera() >= 0).count())
                    .isEqualTo(
                            asset.nodes().stream().filter(n -> n.camera() >= 0).count());
            assertThat(back.images()).hasSameSizeAs(asset.images());
            if (!asset.images().isEmpty()) {
                assertThat(back.images().getFirst().bytes())
                        .isEqualTo(asset.images().getFirst().bytes());
            }
            assertThat(lights(back)).isEqualTo(lights(asset));
        }
    }

    private static long lights(Asset asset) {
        return asset.nodes().stream()
                .filter(n -> n.carried().json().contains("KHR_lights_punctual"))
                .count();
    }

    @Test
    public void numbersOfTextAreReadBackTheSame() {
        float[] values = {
            0, -0.0f, 1, -1, 0.1f, 1e-30f, 3.4028235e38f, 123456.79f, 16777216, Float.MIN_VALUE, 0.33333334f
        };
        for (float value : values) {
            String text = new String(new TextOut().put(value).bytes(), StandardCharsets.US_ASCII);
            assertThat(Float.parseFloat(text)).as(text).isEqualTo(value);
            if (value == 0 || value > 1e-8 && value <= 1) {
                String from = new String(new TextOut().putFromOne(value).bytes(), StandardCharsets.US_ASCII);
                assertThat((float) (1 - Double.parseDouble(from))).as(from).isEqualTo(value == 0 ? 0f : value);
            }
        }
        double[] rounded = {0, 1.5, -2.25, 0.000000001, -0.0000000004, 1234567.123456789, 1e20};
        String[] wanted = {"0", "1.5", "-2.25", "0.000000001", "0", "1234567.123456789", "1.0E20"};
        for (int i = 0; i < rounded.length; i++) {
            assertThat(new String(new TextOut().put(rounded[i], 9).bytes(), StandardCharsets.US_ASCII))
                    .isEqualTo(wanted[i]);
        }
        assertThat(TextOut.oneLine(" a \n b\tc ")).isEqualTo("a b c");
    }

    @Test
    public void aSceneWithoutAnInstanceShowsItsGeometry() throws Exception {
        Asset asset = read(geometry("<triangles count=\"1\">" + INPUTS + "<p>0 0 0 1 0 1 2 0 2</p></triangles>"));
        assertThat(asset.nodes()).hasSize(1);
        assertThat(new Rig(asset).rest().world()).hasSize(1);
    }
}
