package org.cleanmarrow.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.io.ByteArrayInputStream;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.xml.XMLConstants;
import javax.xml.transform.stream.StreamSource;
import javax.xml.validation.Schema;
import javax.xml.validation.SchemaFactory;
import org.cleanmarrow.formats.collada.ColladaReader;
import org.cleanmarrow.formats.file.ReadFailed;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.kit.RandomAssets;
import org.cleanmarrow.kit.Witness;
import org.cleanmarrow.measure.Motion;
import org.cleanmarrow.measure.MotionProbe;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.pose.Deformer;
import org.cleanmarrow.pose.MeshPlace;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.joml.Vector3d;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.w3c.dom.ls.LSInput;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * COLLADA on files that we did not write, against what three.js 0.187 makes of them ({@code ColladaLoader}, run for real
 * by {@code tools/reference/readers.mjs}), and what we write against the schema of COLLADA 1.4.1 (Debian package
 * {@code opencollada-tools}) and against the same loader.
 */
public class ColladaTest {
    private static final Path SCHEMA = Path.of("/usr/lib/opencollada/collada_schema_1_4_1.xsd");
    /** The attributes of the xml namespace, which the schema imports from the web and no test may fetch. */
    private static final String XML_NAMESPACE = "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'"
            + " targetNamespace='http://www.w3.org/XML/1998/namespace'><xs:attribute name='base' type='xs:anyURI'/>"
            + "<xs:attribute name='lang' type='xs:language'/></xs:schema>";

    private static JsonNode witness(Path file) throws Exception {
        return JsonMapper.shared()
                .readTree(Witness.node("readers.mjs", file.toAbsolutePath().toString()));
    }

    private static Vector3d vector(JsonNode list, int at) {
        return new Vector3d(
                list.get(at).doubleValue(),
                list.get(at + 1).doubleValue(),
                list.get(at + 2).doubleValue());
    }

    /** World positions of the corners of all triangles, as points. */
    private static List<Vector3d> corners(Asset asset, Clip clip, double seconds) {
        Deformer deformer = new Deformer(asset);
        Rig rig = new Rig(asset);
        List<Vector3d> out = new ArrayList<>();
        for (MeshPlace place : deformer.places()) {
            float[] at = deformer.positions(place, clip == null ? rig.rest() : rig.at(clip, seconds));
            int first = 0;
            for (Primitive p : asset.meshes().get(place.mesh()).primitives()) {
                for (int corner : p.triangleCorners()) {
                    int v = (first + corner) * 3;
                    out.add(new Vector3d(at[v], at[v + 1], at[v + 2]));
                }
                first += p.vertexCount();
            }
        }
        return out;
    }

    private static Vector3d middle(List<Vector3d> points) {
        Vector3d sum = new Vector3d();
        points.forEach(sum::add);
        return sum.div(Math.max(1, points.size()));
    }

    /** Every corner of one list is in the other, and there are as many. */
    private static void sameCorners(List<Vector3d> ours, JsonNode theirs, double tolerance, String what) {
        assertThat(theirs.size()).as(what).isEqualTo(ours.size() * 3).isPositive();
        for (int i = 0; i < ours.size(); i++) {
            Vector3d wanted = vector(theirs, 3 * i);
            double nearest = ours.stream()
                    .mapToDouble(o -> o.distanceSquared(wanted))
                    .min()
                    .orElseThrow();
            assertThat(Math.sqrt(nearest)).as("%s corner %d", what, i).isLessThan(tolerance);
        }
    }

    @Test
    public void trianglesStandWhereTheOtherReaderHasThem() throws Exception {
        for (String file : List.of(
                "box_nested_animation.dae",
                "cube_with_2UVs.DAE",
                "sphere.dae",
                "kwxport_test_vcolors.dae",
                "regr01.dae",
                "cube_xmlspecialchars.dae")) {
            Asset asset = Samples.read(file);
            double size = RestBox.of(asset).diagonal();
            sameCorners(corners(asset, null, 0), witness(Samples.path(file)).path("corners"), 1e-5 * size, file);
        }
    }

    @Test
    public void jointsAndSkinsMoveAsTheOtherReaderHasThem() throws Exception {
        for (String file : List.of("box_nested_animation.dae", "library_animation_clips.dae")) {
            Asset asset = Samples.read(file);
            JsonNode theirs = witness(Samples.path(file));
            boolean[] joint = asset.jointFlags();
            long joints = asset.skins().getFirst().joints().length;
            assertThat(theirs.path("bones").asInt()).as(file).isBetween((int) joints - 1, (int) joints);
            Clip clip = asset.clips().getLast();
            double size = RestBox.of(asset).diagonal();
            for (JsonNode moment : theirs.path("clips").get(0).path("moments")) {
                double seconds = moment.path("seconds").doubleValue();
                Matrix4d[] world = new Rig(asset).at(clip, seconds).world();
                for (var node : moment.path("nodes").properties()) {
                    if (node.getKey().toLowerCase().contains("scene")) {
                        continue;
                    }
                    Vector3d at = vector(node.getValue(), 0);
                    double nearest = Double.MAX_VALUE;
                    for (int n = 0; n < joint.length; n++) {
                        nearest = Math.min(
                                nearest, world[n].getTranslation(new Vector3d()).distance(at));
                    }
                    assertThat(nearest)
                            .as("%s %s at %s", file, node.getKey(), seconds)
                            .isLessThan(1e-4 * size);
                }
                if (file.startsWith("box")) {
                    assertThat(middle(corners(asset, clip, seconds)).distance(vector(moment.path("middle"), 0)))
                            .as("%s at %s", file, seconds)
                            .isLessThan(1e-4 * size);
                }
            }
        }
    }

    @Test
    public void unitAxisAndLooseEndsAreRead() throws Exception {
        assertThat(Samples.read("cube_with_2UVs.DAE").conventions().code()).isEqualTo("z-up-in-rh");
        assertThat(Samples.read("cube_UTF16LE.dae").conventions().code()).isEqualTo("y-up-cm-rh");
        Asset cameras = Samples.read("cameras.dae");
        assertThat(cameras.cameras()).hasSize(3);
        assertThat(Samples.read("lights.dae").carried().json()).contains("KHR_lights_punctual", "spot", "directional");
        // A camera and a light that the file names and does not have.
        Asset dangling = Samples.read("cube_emptyTags.dae");
        assertThat(dangling.meshes().getFirst().triangleCount()).isEqualTo(12);
        assertThat(dangling.notes()).anyMatch(n -> n.toString().contains("camera #PerspCamera"));
        assertThat(Samples.read("cube_tristrips.dae").meshes().getFirst().triangleCount())
                .isEqualTo(12);
        assertThat(Samples.read("cube_with_2UVs.DAE")
                        .meshes()
                        .getFirst()
                        .primitives()
                        .getFirst()
                        .attributes())
                .extracting(a -> a.name())
                .contains("TEXCOORD_0", "TEXCOORD_1");
        List<String> clips = Samples.read("library_animation_clips.dae").clips().stream()
                .map(Clip::name)
                .toList();
        assertThat(clips).containsExactly("bend", "turn");
    }

    private static Schema schema() throws Exception {
        assertThat(SCHEMA)
                .as("the schema, from the Debian package opencollada-tools")
                .exists();
        SchemaFactory factory = SchemaFactory.newInstance(XMLConstants.W3C_XML_SCHEMA_NS_URI);
        factory.setResourceResolver((type, namespace, publicId, systemId, base) -> {
            try {
                var dom = javax.xml.parsers.DocumentBuilderFactory.newInstance()
                        .newDocumentBuilder()
                        .getDOMImplementation();
                LSInput input = ((org.w3c.dom.ls.DOMImplementationLS) dom.getFeature("LS", "3.0")).createLSInput();
                input.setCharacterStream(new StringReader(XML_NAMESPACE));
                input.setSystemId(systemId);
                return input;
            } catch (javax.xml.parsers.ParserConfigurationException e) {
                throw new IllegalStateException(e);
            }
        });
        return factory.newSchema(SCHEMA.toFile());
    }

    private static List<Asset> written() throws Exception {
        List<Asset> out = new ArrayList<>();
        for (String file : List.of(
                "simple_skin.gltf",
                "AnimatedMorphCube.gltf",
                "Cameras.gltf",
                "BoxTextured.gltf",
                "generic-hand-left.glb",
                "spider.obj",
                "01_01.bvh",
                "box_nested_animation.dae",
                "library_animation_clips.dae",
                "lights.dae",
                "cube_xmlspecialchars.dae")) {
            out.add(Samples.read(file));
        }
        for (int seed = 1; seed <= 6; seed++) {
            out.add(RandomAssets.of(seed));
        }
        return out;
    }

    @Test
    public void whatWeWriteIsValid() throws Exception {
        Schema schema = schema();
        for (Asset asset : written()) {
            Written written = AssetFiles.write(asset, "dae", "file", Work.QUIET);
            schema.newValidator()
                    .validate(new StreamSource(
                            new ByteArrayInputStream(written.pieces().getFirst().bytes()), asset.name()));
        }
        // The witness says no where something is wrong.
        byte[] broken = new String(
                        AssetFiles.write(RandomAssets.of(1), "dae", "file", Work.QUIET)
                                .pieces()
                                .getFirst()
                                .bytes(),
                        StandardCharsets.UTF_8)
                .replace("<up_axis>", "<up_axes>")
                .replace("</up_axis>", "</up_axes>")
                .getBytes(StandardCharsets.UTF_8);
        assertThatThrownBy(() -> schema.newValidator().validate(new StreamSource(new ByteArrayInputStream(broken))))
                .hasMessageContaining("up_axes");
    }

    @Test
    public void whatWeWriteComesBackAndMovesTheSame() throws Exception {
        for (Asset asset : written()) {
            Written written = AssetFiles.write(asset, "dae", asset.name(), Work.QUIET);
            Written.Piece piece = written.pieces().getFirst();
            Asset back = ColladaReader.read(piece.bytes(), piece.name(), null, Work.QUIET);
            Motion motion = MotionProbe.compare(piece.meant(), back, Work.QUIET);
            double size = RestBox.of(asset).diagonal() * asset.conventions().metresPerUnit();
            // Bent curves become straight pieces; all else is exact but for rounding.
            // The keys of simple_skin are 0.707 and so short of unit length, which a matrix does not keep.
            boolean bent = !written.notes().isEmpty();
            double exact = asset.name().equals("simple_skin") ? 2e-4 : 1e-5;
            assertThat(motion.largestMetres())
                    .as("%s: %s", asset.name(), motion)
                    .isLessThan((bent ? 2e-3 : exact) * Math.max(size, 1));
            assertThat(motion.unmatched()).as(asset.name()).isEmpty();
            assertThat(back.conventions()).isEqualTo(piece.meant().conventions());
            assertThat(back.clips().stream().map(Clip::name).toList())
                    .as(asset.name())
                    .isEqualTo(asset.clips().stream().map(Clip::name).toList());
            assertThat(back.meshes().stream().mapToInt(Mesh::triangleCount).sum())
                    .isEqualTo(asset.meshes().stream()
                            .mapToInt(Mesh::triangleCount)
                            .sum());
            assertThat(back.nodes().stream().filter(n -> n.mesh() >= 0).count())
                    .isEqualTo(asset.nodes().stream().filter(n -> n.mesh() >= 0).count());
        }
    }

    @Test
    public void polygonsAndNamesComeBack() throws Exception {
        Asset asset = Samples.read("ConcavePolygon.dae");
        Faces faces = asset.meshes().getFirst().primitives().getFirst().layout().faces();
        assertThat(faces.count()).isEqualTo(1);
        Mesh named = asset.meshes().getFirst().withName("Überzug & 2 <Knöpfe>");
        Asset given = asset.withMeshes(List.of(named));
        Written.Piece piece =
                AssetFiles.write(given, "dae", "x", Work.QUIET).pieces().getFirst();
        Asset back = ColladaReader.read(piece.bytes(), "x.dae", null, Work.QUIET);
        assertThat(back.meshes().getFirst().name()).isEqualTo("Überzug & 2 <Knöpfe>");
        assertThat(back.meshes().getFirst().primitives().getFirst().layout().faces())
                .isEqualTo(faces);
    }

    @Test
    public void theOtherReaderSeesWhatWeWrote() throws Exception {
        for (String file : List.of("simple_skin.gltf", "generic-hand-left.glb", "box_nested_animation.dae")) {
            Asset asset = Samples.read(file);
            Written.Piece piece = AssetFiles.write(asset, "dae", "written", Work.QUIET)
                    .pieces()
                    .getFirst();
            Path folder = Files.createTempDirectory("collada");
            Path path = Files.write(folder.resolve("written.dae"), piece.bytes());
            JsonNode theirs = witness(path);
            double size = RestBox.of(piece.meant()).diagonal();
            sameCorners(corners(piece.meant(), null, 0), theirs.path("corners"), 1e-4 * size, file);
            assertThat(theirs.path("bones").asInt()).as(file).isPositive();
            for (JsonNode moment : theirs.path("clips").isEmpty()
                    ? List.<JsonNode>of()
                    : theirs.path("clips").get(0).path("moments")) {
                double seconds = moment.path("seconds").doubleValue();
                Vector3d ours =
                        middle(corners(piece.meant(), piece.meant().clips().getFirst(), seconds));
                assertThat(ours.distance(vector(moment.path("middle"), 0)))
                        .as("%s at %s", file, seconds)
                        .isLessThan(1e-3 * size);
            }
        }
    }

    private static String document(String inside) {
        return "<?xml version=\"1.0\"?>\n<COLLADA xmlns=\"http://www.collada.org/2005/11/COLLADASchema\""
                + " version=\"1.4.1\">\n" + inside + "\n</COLLADA>";
    }

    private static Asset read(String text) throws ReadFailed {
        return ColladaReader.read(text.getBytes(StandardCharsets.UTF_8), "x.dae", null, Work.QUIET);
    }

    private static String triangle(String positions, String count, String indices) {
        return document(
                "<library_geometries><geometry id=\"g\"><mesh>\n<source id=\"s\"><float_array id=\"a\" count=\"9\">"
                        + positions + "</float_array><technique_common><accessor source=\"#a\" count=\"" + count
                        + "\" stride=\"3\"><param name=\"X\" type=\"float\"/><param name=\"Y\" type=\"float\"/>"
                        + "<param name=\"Z\" type=\"float\"/></accessor></technique_common></source>"
                        + "<vertices id=\"v\"><input semantic=\"POSITION\" source=\"#s\"/></vertices>\n"
                        + "<triangles count=\"1\"><input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/><p>" + indices
                        + "</p></triangles></mesh></geometry></library_geometries>");
    }

    @Test
    public void theSpecificationsTransformsAreApplied() throws Exception {
        // COLLADA 1.4.1, skew: angle, the axis that is moved along, the axis that says how far; and rotate in degrees.
        Asset asset = read(document("<library_visual_scenes><visual_scene id=\"s\"><node id=\"a\"><translate>1 2 3"
                + "</translate><rotate>0 0 1 90</rotate><scale>2 2 2</scale><node id=\"b\"><translate>1 0 0</translate>"
                + "</node></node><node id=\"c\"><skew>45 1 0 0 0 1 0</skew></node></visual_scene>"
                + "</library_visual_scenes>"));
        Matrix4d[] world = new Rig(asset).rest().world();
        assertThat(world[1].getTranslation(new Vector3d()).distance(new Vector3d(1, 4, 3)))
                .isLessThan(1e-6);
        Vector3d skewed = world[asset.findNode("c")].transformPosition(new Vector3d(0, 2, 0));
        assertThat(skewed.distance(new Vector3d(2, 2, 0))).isLessThan(1e-6);
    }

    /** A full turn between two keys is no standing still: 90 degrees a quarter of the way. */
    @Test
    public void aTurnOfMoreThanHalfBetweenKeysGoesTheWholeWay() throws Exception {
        String source = "<source id=\"%s\"><float_array id=\"%sa\" count=\"2\">%s</float_array><technique_common>"
                + "<accessor source=\"#%sa\" count=\"2\" stride=\"1\"><param name=\"%s\" type=\"float\"/></accessor>"
                + "</technique_common></source>";
        Asset asset = read(document("<library_animations><animation>"
                + String.format(source, "t", "t", "0 1", "t", "TIME")
                + String.format(source, "o", "o", "0 360", "o", "ANGLE")
                + "<sampler id=\"p\"><input semantic=\"INPUT\" source=\"#t\"/><input semantic=\"OUTPUT\" source=\"#o\"/>"
                + "</sampler><channel source=\"#p\" target=\"n/r.ANGLE\"/></animation></library_animations>"
                + "<library_visual_scenes><visual_scene id=\"s\"><node id=\"n\"><rotate sid=\"r\">0 1 0 0</rotate>"
                + "</node></visual_scene></library_visual_scenes>"));
        Clip clip = asset.clips().getFirst();
        for (double t : new double[] {0.1, 0.25, 0.5, 0.8}) {
            Vector3d x = new Rig(asset).at(clip, t).world()[0].transformDirection(new Vector3d(1, 0, 0));
            double angle = 2 * Math.PI * t;
            assertThat(x.distance(new Vector3d(Math.cos(angle), 0, -Math.sin(angle))))
                    .as("at " + t)
                    .isLessThan(2e-3);
        }
    }

    @DataProvider
    public Object[][] broken() {
        return new Object[][] {
            {"<COLLADA><a></COLLADA>", "line 1", "well-formed"},
            {"<!DOCTYPE x [<!ENTITY e SYSTEM \"file:///etc/passwd\">]>\n<COLLADA>&e;</COLLADA>", "line 1", "DOCTYPE"},
            {"<glTF/>", "line 1", "expected COLLADA"},
            {document(""), "line 2", "visual_scene"},
            {triangle("0 0 0 1 0 0 0 1", "3", "0 1 2"), "line 4", "ends within"},
            {triangle("0 0 0 1 0 0 0 1,5 0", "3", "0 1 2"), "line 4", "decimal point"},
            {triangle("0 0 0 1 0 0 0 NaN 0", "3", "0 1 2"), "line 4", "number"},
            {triangle("0 0 0 1 0 0 0 1 0", "3", "0 1 7"), "line 5", "vertex 7"},
            {triangle("0 0 0 1 0 0 0 1 0", "3", "0 1 -2"), "line 5", "vertex -2"},
            {triangle("0 0 0 1 0 0 0 1 0", "999999999", "0 1 2"), "line 4", "999999999"},
            {triangle("0 0 0 1 0 0 0 1 0", "-3", "0 1 2"), "line 4", "whole number"},
            {
                document(
                        "<library_visual_scenes><visual_scene id=\"s\"><node id=\"n\"><instance_node url=\"#n\"/></node>"
                                + "</visual_scene></library_visual_scenes>"),
                "line 3",
                "nested"
            },
            {
                document(
                        "<library_visual_scenes><visual_scene id=\"s\"><node><matrix>1 2 3</matrix></node></visual_scene>"
                                + "</library_visual_scenes>"),
                "line 3",
                "16 numbers"
            },
            {
                document("<asset><unit meter=\"0\"/></asset><library_visual_scenes><visual_scene id=\"s\"/>"
                        + "</library_visual_scenes>"),
                "line 3",
                "metres above zero"
            },
        };
    }

    @Test(dataProvider = "broken")
    public void brokenFilesSayWhereAndWhat(String text, String where, String what) {
        assertThatThrownBy(() -> read(text))
                .isInstanceOf(ReadFailed.class)
                .hasMessageContaining("x.dae")
                .hasMessageContaining(where)
                .hasMessageContaining(what);
    }

    @Test(timeOut = 120_000)
    public void changedFilesGiveAResultOrAMessage() throws Exception {
        java.util.Random random = new java.util.Random(7);
        byte[] good = Files.readAllBytes(Samples.path("library_animation_clips.dae"));
        int messages = 0;
        for (int round = 0; round < 150; round++) {
            byte[] bytes = good.clone();
            for (int i = 0; i < 1 + round % 4; i++) {
                int at = random.nextInt(bytes.length);
                switch (random.nextInt(3)) {
                    case 0 -> bytes[at] = (byte) ("0123456789-. <>\"#".charAt(random.nextInt(17)));
                    case 1 -> bytes = java.util.Arrays.copyOf(bytes, at);
                    default -> java.util.Arrays.fill(bytes, at, Math.min(bytes.length, at + 9), (byte) '9');
                }
                if (bytes.length == 0) {
                    break;
                }
            }
            try {
                Asset asset = ColladaReader.read(bytes, "x.dae", null, Work.QUIET);
                assertThat(new Rig(asset).rest().world()).isNotNull();
            } catch (ReadFailed e) {
                assertThat(e.getMessage()).contains("x.dae");
                messages++;
            }
        }
        assertThat(messages).isBetween(20, 149);
    }

    @Test
    public void bezierCurvesFollowTheirControlPoints() throws Exception {
        // An ease with handles a third of the way: value 3s^2 - 2s^3 at times that rise evenly.
        String source = "<source id=\"%s\"><float_array id=\"%sa\" count=\"%d\">%s</float_array><technique_common>"
                + "<accessor source=\"#%sa\" count=\"2\" stride=\"%d\">%s</accessor></technique_common></source>";
        String one = "<param name=\"A\" type=\"float\"/>";
        Asset asset = read(document("<library_animations><animation>"
                + String.format(source, "t", "t", 2, "0 1", "t", 1, one)
                + String.format(source, "o", "o", 2, "0 10", "o", 1, one)
                + String.format(source, "i", "i", 4, "0 0 0.6666667 10", "i", 2, one + one)
                + String.format(source, "u", "u", 4, "0.3333333 0 1 10", "u", 2, one + one)
                + "<source id=\"k\"><Name_array id=\"ka\" count=\"2\">BEZIER BEZIER</Name_array></source>"
                + "<sampler id=\"p\"><input semantic=\"INPUT\" source=\"#t\"/><input semantic=\"OUTPUT\" source=\"#o\"/>"
                + "<input semantic=\"IN_TANGENT\" source=\"#i\"/><input semantic=\"OUT_TANGENT\" source=\"#u\"/>"
                + "<input semantic=\"INTERPOLATION\" source=\"#k\"/></sampler>"
                + "<channel source=\"#p\" target=\"n/t.X\"/></animation></library_animations>"
                + "<library_visual_scenes><visual_scene id=\"s\"><node id=\"n\"><translate sid=\"t\">0 0 0</translate>"
                + "</node></visual_scene></library_visual_scenes>"));
        for (double t : new double[] {0.1, 0.3, 0.5, 0.9}) {
            double x = new Rig(asset).at(asset.clips().getFirst(), t).world()[0].getTranslation(new Vector3d()).x;
            assertThat(x).isCloseTo(10 * (3 * t * t - 2 * t * t * t), within(0.02));
        }
    }
}
