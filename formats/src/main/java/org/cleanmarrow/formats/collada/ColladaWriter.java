package org.cleanmarrow.formats.collada;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeSet;
import org.cleanmarrow.convention.Conventions;
import org.cleanmarrow.convention.Units;
import org.cleanmarrow.formats.file.PictureFiles;
import org.cleanmarrow.formats.file.Pictures;
import org.cleanmarrow.formats.file.Written;
import org.cleanmarrow.formats.mesh.Held;
import org.cleanmarrow.formats.mesh.Points;
import org.cleanmarrow.formats.xml.XmlOut;
import org.cleanmarrow.model.Asset;
import org.cleanmarrow.model.Attribute;
import org.cleanmarrow.model.Channel;
import org.cleanmarrow.model.Clip;
import org.cleanmarrow.model.Faces;
import org.cleanmarrow.model.Influences;
import org.cleanmarrow.model.Local;
import org.cleanmarrow.model.Material;
import org.cleanmarrow.model.Mesh;
import org.cleanmarrow.model.MorphTarget;
import org.cleanmarrow.model.Node;
import org.cleanmarrow.model.Primitive;
import org.cleanmarrow.model.Sampler;
import org.cleanmarrow.model.Skin;
import org.cleanmarrow.pose.Baker;
import org.cleanmarrow.pose.NodeMotion;
import org.cleanmarrow.pose.RestBox;
import org.cleanmarrow.pose.Rig;
import org.cleanmarrow.steps.scale.Convert;
import org.cleanmarrow.work.Refused;
import org.cleanmarrow.work.Work;
import org.joml.Matrix4d;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes COLLADA 1.4.1: parts with their polygons, skins with every influence, morphs, cameras, lights, and each clip
 * as an animation clip. Nodes are moved by whole matrices. The format is right-handed with the front towards the
 * viewer; what is in other axes is converted, keeping its unit and as far as may be its up axis.
 */
public final class ColladaWriter {
    /** How near straight lines keep to bent curves, as a share of the size. */
    private static final double STRAIGHT = 1e-5;

    private static final String PROFILE = "CLEAN_MARROW";

    private final Asset asset;
    private final Rig rig;
    private final Work work;
    private final XmlOut xml = new XmlOut();
    private final PictureFiles.Names pictures;
    private final List<String> notes = new ArrayList<>();
    private final Map<Integer, Points> points = new HashMap<>();
    private final boolean[] joint;
    private final double size;
    private boolean bent;

    private ColladaWriter(Asset asset, Pictures where, Work work) {
        this.asset = asset;
        this.work = work;
        rig = new Rig(asset);
        pictures = new PictureFiles.Names(asset, where);
        joint = asset.jointFlags();
        double box = RestBox.of(asset).diagonal();
        size = box > 0 ? box : 1;
    }

    /**
     * The files of an asset.
     *
     * @param base     their name without ending
     * @param pictures where they lie; never inside
     */
    public static Written write(Asset given, String base, Pictures pictures, Work work) throws Refused {
        Conventions is = given.conventions();
        Conventions can = ColladaReader.of(is.metresPerUnit(), up(is));
        Asset asset = is.equals(can)
                ? given
                : new Convert(can, false).apply(given, work).asset();
        ColladaWriter writer = new ColladaWriter(asset, pictures, work);
        if (!is.equals(can)) {
            writer.notes.add("COLLADA is right-handed: the data were written as " + can.code() + ".");
        }
        byte[] bytes = writer.document();
        List<Written.Piece> pieces = new ArrayList<>(
                List.of(new Written.Piece(base + ".dae", bytes, Held.attributes(asset, ColladaWriter::isHeld))));
        pieces.addAll(writer.pictures.pieces());
        return new Written(pieces, writer.notes);
    }

    private static boolean isHeld(Attribute a) {
        return isUv(a) && a.width() == 2 || a.name().startsWith("COLOR_") && a.width() >= 3;
    }

    private static String up(Conventions c) {
        return "XYZ".charAt(c.up().dimension()) + "_UP";
    }

    private byte[] document() {
        xml.begin("COLLADA", "xmlns", "http://www.collada.org/2005/11/COLLADASchema", "version", "1.4.1");
        String now = Instant.now().truncatedTo(ChronoUnit.SECONDS).toString();
        double metres = asset.conventions().metresPerUnit();
        String unit = Units.shortName(metres).orElse("unit");
        xml.begin("asset")
                .begin("contributor")
                .text("authoring_tool", "Clean Marrow")
                .end();
        xml.text("created", now).text("modified", now);
        xml.empty("unit", "name", unit, "meter", Double.toString(metres));
        xml.text("up_axis", up(asset.conventions())).end();
        cameras();
        lights();
        materials();
        geometries();
        controllers();
        animations();
        scene();
        xml.end();
        if (bent) {
            notes.add(
                    "Curves between keys were written as straight lines, as near as a hundred thousandth of the size.");
        }
        return xml.bytes();
    }

    /** A name as the schema wants it; where it says something else the true one is written in an extra. */
    private static String legal(String name) {
        String plain = name.replaceAll("[^\\p{L}\\p{N}_.-]", "_");
        return plain.isEmpty() || !plain.matches("^[\\p{L}_].*") ? "_" + plain : plain;
    }

    private String[] named(String id, String name, String... more) {
        List<String> out = new ArrayList<>(List.of("id", id));
        if (!name.isEmpty()) {
            out.addAll(List.of("name", legal(name)));
        }
        out.addAll(List.of(more));
        return out.toArray(String[]::new);
    }

    private void trueName(String name) {
        if (!legal(name).equals(name)) {
            extra("name", name);
        }
    }

    private void extra(String what, String value) {
        xml.begin("extra")
                .begin("technique", "profile", PROFILE)
                .text(what, value)
                .end()
                .end();
    }

    private static JsonNode json(String text) {
        return text.isEmpty()
                ? JsonMapper.shared().createObjectNode()
                : JsonMapper.shared().readTree(text);
    }

    private void cameras() {
        if (asset.cameras().isEmpty()) {
            return;
        }
        xml.begin("library_cameras");
        for (int c = 0; c < asset.cameras().size(); c++) {
            JsonNode camera = json(asset.cameras().get(c).json());
            boolean perspective = camera.has("perspective");
            JsonNode lens = camera.path(perspective ? "perspective" : "orthographic");
            xml.begin("camera", named("camera-" + c, camera.path("name").asString("")));
            xml.begin("optics").begin("technique_common").begin(perspective ? "perspective" : "orthographic");
            if (perspective) {
                number("yfov", Math.toDegrees(lens.path("yfov").asDouble(0.8)));
                if (lens.has("aspectRatio")) {
                    number("aspect_ratio", lens.path("aspectRatio").asDouble());
                }
            } else {
                number("xmag", lens.path("xmag").asDouble(1));
                number("ymag", lens.path("ymag").asDouble(1));
            }
            number("znear", lens.path("znear").asDouble(0.1));
            number("zfar", lens.path("zfar").asDouble(1000));
            xml.end().end().end().end();
        }
        xml.end();
    }

    private void number(String name, double value) {
        xml.text(name, Double.toString(value));
    }

    private JsonNode punctual() {
        return json(asset.carried().json())
                .path("extensions")
                .path("KHR_lights_punctual")
                .path("lights");
    }

    private void lights() {
        JsonNode lights = punctual();
        if (lights.isEmpty()) {
            return;
        }
        xml.begin("library_lights");
        for (int l = 0; l < lights.size(); l++) {
            JsonNode light = lights.get(l);
            String kind = light.path("type").asString("point");
            xml.begin("light", named("light-" + l, light.path("name").asString("")));
            xml.begin("technique_common").begin(kind);
            float[] colour = {1, 1, 1};
            for (int i = 0; i < 3 && light.path("color").size() == 3; i++) {
                colour[i] = light.path("color").get(i).floatValue();
            }
            float intensity = light.path("intensity").floatValue(1);
            for (int i = 0; i < 3; i++) {
                colour[i] *= intensity;
            }
            xml.floats("color", colour);
            if (kind.equals("spot")) {
                number(
                        "falloff_angle",
                        2
                                * Math.toDegrees(light.path("spot")
                                        .path("outerConeAngle")
                                        .asDouble(Math.PI / 4)));
            }
            xml.end().end().end();
        }
        xml.end();
    }

    private int picture(Material material) {
        int image = material.texture() < 0
                ? -1
                : asset.textures().get(material.texture()).image();
        return image >= 0 && asset.images().get(image).bytes() != null ? image : -1;
    }

    private void materials() {
        if (asset.materials().isEmpty()) {
            return;
        }
        TreeSet<Integer> used = new TreeSet<>();
        asset.materials().stream().map(this::picture).filter(i -> i >= 0).forEach(used::add);
        if (!used.isEmpty()) {
            xml.begin("library_images");
            for (int i : used) {
                xml.begin("image", named("image-" + i, asset.images().get(i).name()))
                        .text("init_from", pictures.file(i).replace("%", "%25").replace(" ", "%20"))
                        .end();
            }
            xml.end();
        }
        xml.begin("library_effects");
        for (int m = 0; m < asset.materials().size(); m++) {
            effect(m);
        }
        xml.end().begin("library_materials");
        for (int m = 0; m < asset.materials().size(); m++) {
            String name = asset.materials().get(m).name();
            xml.begin("material", named("material-" + m, name)).empty("instance_effect", "url", "#effect-" + m);
            trueName(name);
            xml.end();
        }
        xml.end();
    }

    private void effect(int m) {
        Material material = asset.materials().get(m);
        float[] c = material.baseColour();
        int image = picture(material);
        xml.begin("effect", "id", "effect-" + m).begin("profile_COMMON");
        if (image >= 0) {
            xml.begin("newparam", "sid", "surface").begin("surface", "type", "2D");
            xml.text("init_from", "image-" + image).end().end();
            xml.begin("newparam", "sid", "sampler").begin("sampler2D");
            xml.text("source", "surface").end().end();
        }
        xml.begin("technique", "sid", "common").begin("lambert").begin("diffuse");
        if (image >= 0) {
            xml.empty("texture", "texture", "sampler", "texcoord", "UV0");
        } else {
            xml.floats("color", new float[] {c[0], c[1], c[2], 1});
        }
        xml.end();
        if (c[3] < 1) {
            xml.begin("transparent", "opaque", "A_ONE")
                    .floats("color", new float[] {1, 1, 1, 1})
                    .end();
            xml.begin("transparency").floats("float", new float[] {c[3]}).end();
        }
        xml.end().end().end();
        if (material.doubleSided()) {
            extra("double_sided", "1");
        }
        xml.end();
    }

    private void geometries() {
        if (asset.meshes().isEmpty()) {
            return;
        }
        xml.begin("library_geometries");
        for (int m = 0; m < asset.meshes().size(); m++) {
            work.stopIfCancelled();
            work.at(0.5 * m / asset.meshes().size(), "writing");
            Mesh mesh = asset.meshes().get(m);
            points.put(m, new Points(mesh, true));
            geometry("mesh-" + m, mesh, points.get(m), null);
            for (int t = 0; t < mesh.targetCount(); t++) {
                geometry("mesh-" + m + "-shape-" + t, mesh, points.get(m), t);
            }
        }
        xml.end();
    }

    /** @param shape number of the morph target whose positions are written, or null for the mesh itself */
    private void geometry(String id, Mesh mesh, Points own, @Nullable Integer shape) {
        String name = shape == null
                ? mesh.name()
                : shape < mesh.targetNames().size() ? mesh.targetNames().get(shape) : "shape_" + shape;
        xml.begin("geometry", named(id, name)).begin("mesh");
        float[] positions = new float[own.places().size() * 3];
        for (int p = 0; p < own.places().size(); p++) {
            Points.Place place = own.places().get(p);
            for (int i = 0; i < 3; i++) {
                float value = place.primitive().positions()[place.vertex() * 3 + i];
                positions[p * 3 + i] = value + moved(place, shape, i);
            }
        }
        source(id + "-positions", positions, "X", "Y", "Z");
        for (int p = 0; shape == null && p < mesh.primitives().size(); p++) {
            attributes(id + "-" + p, mesh.primitives().get(p));
        }
        xml.begin("vertices", "id", id + "-vertices");
        xml.empty("input", "semantic", "POSITION", "source", "#" + id + "-positions")
                .end();
        for (int p = 0; shape == null && p < mesh.primitives().size(); p++) {
            primitive(id, id + "-" + p, mesh.primitives().get(p), own.of(p));
        }
        xml.end();
        trueName(name);
        xml.end();
    }

    private static float moved(Points.Place place, @Nullable Integer shape, int i) {
        if (shape == null || shape >= place.primitive().targets().size()) {
            return 0;
        }
        MorphTarget target = place.primitive().targets().get(shape);
        return target.positions() == null ? 0 : target.positions()[place.vertex() * 3 + i];
    }

    private void source(String id, float[] values, String... parameters) {
        int count = values.length / parameters.length;
        xml.begin("source", "id", id);
        xml.floats("float_array", values, "id", id + "-array", "count", Integer.toString(values.length));
        accessor(id, count, parameters.length, "float", parameters);
        xml.end();
    }

    private void accessor(String id, int count, int stride, String type, String... parameters) {
        xml.begin("technique_common");
        xml.begin(
                "accessor",
                "source",
                "#" + id + "-array",
                "count",
                Integer.toString(count),
                "stride",
                Integer.toString(stride));
        for (String parameter : parameters) {
            xml.empty("param", "name", parameter, "type", type);
        }
        xml.end().end();
    }

    private static boolean isUv(Attribute a) {
        return a.name().startsWith("TEXCOORD_");
    }

    private void attributes(String id, Primitive p) {
        if (p.normals() != null) {
            source(id + "-normals", p.normals(), "X", "Y", "Z");
        }
        for (Attribute a : p.attributes()) {
            if (isUv(a) && a.width() == 2) {
                float[] uv = a.values().clone();
                for (int i = 1; i < uv.length; i += 2) {
                    uv[i] = 1 - uv[i];
                }
                source(id + "-" + legal(a.name()), uv, "S", "T");
            } else if (a.name().startsWith("COLOR_") && a.width() >= 3) {
                source(
                        id + "-" + legal(a.name()),
                        a.values(),
                        a.width() == 4 ? new String[] {"R", "G", "B", "A"} : new String[] {"R", "G", "B"});
            }
        }
    }

    private void primitive(String mesh, String id, Primitive p, int[] point) {
        Faces faces = p.layout().faces();
        int[] corners = p.triangleCorners();
        int count = p.indices() == null ? p.vertexCount() : p.indices().length;
        switch (p.mode()) {
            case POINTS -> {}
            case LINES -> piece("lines", count / 2, mesh, id, p, point, line(p, count), null);
            case LINE_STRIP, LINE_LOOP ->
                piece(
                        "linestrips",
                        1,
                        mesh,
                        id,
                        p,
                        point,
                        line(p, p.mode() == Primitive.Mode.LINE_LOOP ? count + 1 : count),
                        null);
            default -> {
                if (faces == null || faces.beyondTriangles() == 0) {
                    piece("triangles", corners.length / 3, mesh, id, p, point, corners, null);
                } else {
                    int[] sizes = new int[faces.count()];
                    Arrays.setAll(sizes, f -> faces.starts()[f + 1] - faces.starts()[f]);
                    piece("polylist", sizes.length, mesh, id, p, point, faces.corners(), sizes);
                }
            }
        }
    }

    private static int[] line(Primitive p, int count) {
        int[] out = new int[count];
        int around = p.indices() == null ? p.vertexCount() : p.indices().length;
        Arrays.setAll(out, i -> p.indices() == null ? i % around : p.indices()[i % around]);
        return out;
    }

    private void piece(
            String kind,
            int count,
            String mesh,
            String id,
            Primitive p,
            int[] point,
            int[] corners,
            int @Nullable [] sizes) {
        List<String> head = new ArrayList<>(List.of("count", Integer.toString(count)));
        if (p.material() >= 0) {
            head.addAll(List.of("material", "material-" + p.material()));
        }
        xml.begin(kind, head.toArray(String[]::new));
        xml.empty("input", "semantic", "VERTEX", "source", "#" + mesh + "-vertices", "offset", "0");
        boolean more = p.normals() != null;
        if (more) {
            xml.empty("input", "semantic", "NORMAL", "source", "#" + id + "-normals", "offset", "1");
        }
        for (Attribute a : p.attributes()) {
            boolean uv = isUv(a);
            if (isHeld(a)) {
                more = true;
                xml.empty(
                        "input",
                        "semantic",
                        uv ? "TEXCOORD" : "COLOR",
                        "source",
                        "#" + id + "-" + legal(a.name()),
                        "offset",
                        "1",
                        "set",
                        a.name().replaceAll("\\D", ""));
            }
        }
        if (sizes != null) {
            xml.wholes("vcount", sizes);
        }
        int[] out = new int[corners.length * (more ? 2 : 1)];
        for (int i = 0; i < corners.length; i++) {
            out[more ? 2 * i : i] = point[corners[i]];
            if (more) {
                out[2 * i + 1] = corners[i];
            }
        }
        xml.wholes("p", out).end();
    }

    private void controllers() {
        boolean any = asset.nodes().stream()
                .anyMatch(n -> n.mesh() >= 0
                        && (n.skin() >= 0 || asset.meshes().get(n.mesh()).targetCount() > 0));
        if (!any) {
            return;
        }
        xml.begin("library_controllers");
        for (int n = 0; n < asset.nodes().size(); n++) {
            Node node = asset.nodes().get(n);
            if (node.mesh() < 0) {
                continue;
            }
            String source = "mesh-" + node.mesh();
            if (asset.meshes().get(node.mesh()).targetCount() > 0) {
                morph(n, node, source);
                source = "morph-" + n;
            }
            if (node.skin() >= 0) {
                skin(n, node, source);
            }
        }
        xml.end();
    }

    private void morph(int n, Node node, String source) {
        String id = "morph-" + n;
        int count = asset.meshes().get(node.mesh()).targetCount();
        String[] shapes = new String[count];
        float[] weights = new float[count];
        double[] rest = rig.rest().morph(n);
        for (int t = 0; t < count; t++) {
            shapes[t] = "mesh-" + node.mesh() + "-shape-" + t;
            weights[t] = (float) rest[t];
        }
        xml.begin("controller", "id", id).begin("morph", "source", "#" + source, "method", "NORMALIZED");
        names(id + "-targets", "IDREF_array", "IDREF", shapes, "MORPH_TARGET");
        source(id + "-weights", weights, "MORPH_WEIGHT");
        xml.begin("targets");
        xml.empty("input", "semantic", "MORPH_TARGET", "source", "#" + id + "-targets");
        xml.empty("input", "semantic", "MORPH_WEIGHT", "source", "#" + id + "-weights");
        xml.end().end().end();
    }

    private void names(String id, String array, String type, String[] names, String parameter) {
        xml.begin("source", "id", id);
        xml.text(array, String.join(" ", names), "id", id + "-array", "count", Integer.toString(names.length));
        accessor(id, names.length, 1, type, parameter);
        xml.end();
    }

    private void skin(int n, Node node, String source) {
        Skin skin = asset.skins().get(node.skin());
        String id = "skin-" + n;
        xml.begin("controller", named(id, skin.name())).begin("skin", "source", "#" + source);
        xml.floats("bind_shape_matrix", rows(new Matrix4d()));
        String[] joints =
                Arrays.stream(skin.joints()).mapToObj(j -> "node-" + j).toArray(String[]::new);
        names(id + "-joints", "Name_array", "name", joints, "JOINT");
        float[] binds = new float[joints.length * 16];
        for (int j = 0; j < joints.length; j++) {
            System.arraycopy(rows(skin.inverseBind(j)), 0, binds, j * 16, 16);
        }
        xml.begin("source", "id", id + "-binds");
        xml.floats("float_array", binds, "id", id + "-binds-array", "count", Integer.toString(binds.length));
        accessor(id + "-binds", joints.length, 16, "float4x4", "TRANSFORM");
        xml.end();
        List<Points.Place> places =
                Objects.requireNonNull(points.get(node.mesh())).places();
        int[] counts = new int[places.size()];
        int total = 0;
        for (int p = 0; p < counts.length; p++) {
            Influences rows = places.get(p).primitive().influences();
            counts[p] = rows == null ? 0 : rows.rowLength(places.get(p).vertex());
            total += counts[p];
        }
        float[] weights = new float[total];
        int[] pairs = new int[total * 2];
        int at = 0;
        for (Points.Place place : places) {
            Influences rows = place.primitive().influences();
            for (int i = rows == null ? 0 : rows.offsets()[place.vertex()];
                    rows != null && i < rows.offsets()[place.vertex() + 1];
                    i++) {
                weights[at] = rows.weights()[i];
                pairs[2 * at] = rows.joints()[i];
                pairs[2 * at + 1] = at++;
            }
        }
        source(id + "-weights", weights, "WEIGHT");
        xml.begin("joints").empty("input", "semantic", "JOINT", "source", "#" + id + "-joints");
        xml.empty("input", "semantic", "INV_BIND_MATRIX", "source", "#" + id + "-binds")
                .end();
        xml.begin("vertex_weights", "count", Integer.toString(counts.length));
        xml.empty("input", "semantic", "JOINT", "source", "#" + id + "-joints", "offset", "0");
        xml.empty("input", "semantic", "WEIGHT", "source", "#" + id + "-weights", "offset", "1");
        xml.wholes("vcount", counts).wholes("v", pairs).end();
        xml.end().end();
    }

    private static float[] rows(Matrix4d m) {
        float[] out = new float[16];
        for (int r = 0; r < 4; r++) {
            for (int c = 0; c < 4; c++) {
                out[r * 4 + c] = (float) m.get(c, r);
            }
        }
        return out;
    }

    private void animations() {
        if (asset.clips().isEmpty()) {
            return;
        }
        Map<Integer, List<String>> written = new LinkedHashMap<>();
        xml.begin("library_animations");
        for (int c = 0; c < asset.clips().size(); c++) {
            work.stopIfCancelled();
            work.at(0.5 + 0.5 * c / asset.clips().size(), "writing");
            Map<Integer, List<Channel>> byNode = new LinkedHashMap<>();
            for (Channel channel : asset.clips().get(c).channels()) {
                if (channel.node() >= 0 && channel.path() != Channel.Path.POINTER) {
                    byNode.computeIfAbsent(channel.node(), k -> new ArrayList<>())
                            .add(channel);
                }
            }
            if (byNode.isEmpty()) {
                continue;
            }
            // Side by side and not nested by clip, because some readers find only those at the top.
            List<String> own = new ArrayList<>();
            written.put(c, own);
            for (var entry : byNode.entrySet()) {
                String id = "clip-" + c + "-" + entry.getKey();
                nodeAnimation(id, asset.clips().get(c), entry.getKey(), entry.getValue(), own);
            }
        }
        xml.end();
        if (written.isEmpty()) {
            return;
        }
        xml.begin("library_animation_clips");
        for (int c : written.keySet()) {
            Clip clip = asset.clips().get(c);
            xml.begin(
                    "animation_clip",
                    named(
                            "play-" + c,
                            clip.name(),
                            "start",
                            Double.toString(clip.start()),
                            "end",
                            Double.toString(clip.end())));
            Objects.requireNonNull(written.get(c)).forEach(id -> xml.empty("instance_animation", "url", "#" + id));
            trueName(clip.name());
            xml.end();
        }
        xml.end();
    }

    private void nodeAnimation(String id, Clip clip, int node, List<Channel> channels, List<String> written) {
        List<Channel> moving =
                channels.stream().filter(c -> c.path() != Channel.Path.WEIGHTS).toList();
        if (!moving.isEmpty()) {
            float[] times = times(clip, node, moving);
            float[] values = new float[times.length * 16];
            NodeMotion motion = new NodeMotion(asset, clip);
            for (int k = 0; k < times.length; k++) {
                System.arraycopy(rows(motion.local(node, times[k])), 0, values, k * 16, 16);
            }
            written.add(id);
            sampler(id, times, values, 16, steps(moving), "node-" + node + "/transform");
        }
        channels.stream()
                .filter(c -> c.path() == Channel.Path.WEIGHTS && rig.rest().morph(node) != null)
                .findFirst()
                .ifPresent(weights -> {
                    float[] times = times(clip, node, weights);
                    int count = rig.rest().morph(node).length;
                    float[][] values = new float[count][times.length];
                    for (int k = 0; k < times.length; k++) {
                        double[] now = rig.at(clip.withChannels(List.of(weights)), times[k])
                                .morph(node);
                        for (int t = 0; t < count; t++) {
                            values[t][k] = (float) now[t];
                        }
                    }
                    for (int t = 0; t < count; t++) {
                        written.add(id + "-shape-" + t);
                        sampler(
                                id + "-shape-" + t,
                                times,
                                values[t],
                                1,
                                steps(List.of(weights)),
                                "morph-" + node + "-weights(" + t + ")");
                    }
                });
    }

    private static boolean steps(List<Channel> channels) {
        return channels.stream().allMatch(c -> c.sampler().interpolation() == Sampler.Interpolation.STEP);
    }

    /** Key times of a node's transform, and as many more as straight lines need. */
    private float[] times(Clip clip, int node, List<Channel> channels) {
        bent |= channels.stream().anyMatch(c -> c.sampler().interpolation() == Sampler.Interpolation.CUBICSPLINE);
        NodeMotion motion = new NodeMotion(asset, clip);
        return Baker.times(channels, t -> Baker.parts(motion.local(node, t)), STRAIGHT * size, size);
    }

    /** Key times of morph weights: three weights at a time are followed like a place. */
    private float[] times(Clip clip, int node, Channel weights) {
        bent |= weights.sampler().interpolation() == Sampler.Interpolation.CUBICSPLINE;
        TreeSet<Float> all = new TreeSet<>();
        Clip alone = clip.withChannels(List.of(weights));
        int count = rig.rest().morph(node).length;
        for (int first = 0; first < count; first += 3) {
            int from = first;
            float[] some = Baker.times(
                    List.of(weights),
                    t -> {
                        double[] now = rig.at(alone, t).morph(node);
                        return Local.at(
                                now[from], from + 1 < count ? now[from + 1] : 0, from + 2 < count ? now[from + 2] : 0);
                    },
                    STRAIGHT,
                    0);
            for (float t : some) {
                all.add(t);
            }
        }
        float[] out = new float[all.size()];
        int at = 0;
        for (float t : all) {
            out[at++] = t;
        }
        return out;
    }

    private void sampler(String id, float[] times, float[] values, int width, boolean step, String target) {
        xml.begin("animation", "id", id);
        source(id + "-times", times, "TIME");
        xml.begin("source", "id", id + "-values");
        xml.floats("float_array", values, "id", id + "-values-array", "count", Integer.toString(values.length));
        accessor(id + "-values", times.length, width, width == 16 ? "float4x4" : "float", "TRANSFORM");
        xml.end();
        String[] kinds = new String[times.length];
        Arrays.fill(kinds, step ? "STEP" : "LINEAR");
        names(id + "-kinds", "Name_array", "name", kinds, "INTERPOLATION");
        xml.begin("sampler", "id", id + "-sampler");
        xml.empty("input", "semantic", "INPUT", "source", "#" + id + "-times");
        xml.empty("input", "semantic", "OUTPUT", "source", "#" + id + "-values");
        xml.empty("input", "semantic", "INTERPOLATION", "source", "#" + id + "-kinds")
                .end();
        xml.empty("channel", "source", "#" + id + "-sampler", "target", target);
        xml.end();
    }

    private void scene() {
        xml.begin("library_visual_scenes").begin("visual_scene", "id", "scene");
        int[] parents = asset.parents();
        for (int n = 0; n < parents.length; n++) {
            if (parents[n] < 0) {
                node(n);
            }
        }
        xml.end().end();
        xml.begin("scene").empty("instance_visual_scene", "url", "#scene").end();
    }

    private void node(int top) {
        // A stack of its own, because chains may be far deeper than the thread's; -1 ends an element.
        java.util.ArrayDeque<Integer> left = new java.util.ArrayDeque<>(List.of(top));
        java.util.ArrayDeque<Integer> opened = new java.util.ArrayDeque<>();
        while (!left.isEmpty()) {
            int n = left.pop();
            if (n < 0) {
                trueName(asset.nodes().get(opened.pop()).name());
                xml.end();
                continue;
            }
            Node node = asset.nodes().get(n);
            xml.begin("node", named("node-" + n, node.name(), "sid", "node-" + n, "type", joint[n] ? "JOINT" : "NODE"));
            xml.floats("matrix", rows(node.local().toMatrix()), "sid", "transform");
            instances(n, node);
            opened.push(n);
            left.push(-1);
            for (int i = node.children().length - 1; i >= 0; i--) {
                left.push(node.children()[i]);
            }
        }
    }

    private void instances(int n, Node node) {
        if (node.camera() >= 0) {
            xml.empty("instance_camera", "url", "#camera-" + node.camera());
        }
        if (node.mesh() >= 0 && node.skin() >= 0) {
            xml.begin("instance_controller", "url", "#skin-" + n);
            for (int top : tops(asset.skins().get(node.skin()))) {
                xml.text("skeleton", "#node-" + top);
            }
            bindings(asset.meshes().get(node.mesh()));
            xml.end();
        } else if (node.mesh() >= 0 && asset.meshes().get(node.mesh()).targetCount() > 0) {
            xml.begin("instance_controller", "url", "#morph-" + n);
            bindings(asset.meshes().get(node.mesh()));
            xml.end();
        } else if (node.mesh() >= 0) {
            xml.begin("instance_geometry", "url", "#mesh-" + node.mesh());
            bindings(asset.meshes().get(node.mesh()));
            xml.end();
        }
        JsonNode light = json(node.carried().json())
                .path("extensions")
                .path("KHR_lights_punctual")
                .path("light");
        if (light.isIntegralNumber() && light.intValue() < punctual().size()) {
            xml.empty("instance_light", "url", "#light-" + light.intValue());
        }
    }

    /** Joints of a skin with none of its joints above them. */
    private List<Integer> tops(Skin skin) {
        boolean[] own = new boolean[asset.nodes().size()];
        for (int j : skin.joints()) {
            own[j] = true;
        }
        int[] parents = asset.parents();
        List<Integer> out = new ArrayList<>();
        for (int j : skin.joints()) {
            int up = parents[j];
            while (up >= 0 && !own[up]) {
                up = parents[up];
            }
            if (up < 0) {
                out.add(j);
            }
        }
        return out;
    }

    private void bindings(Mesh mesh) {
        TreeSet<Integer> used = new TreeSet<>();
        mesh.primitives().stream().map(Primitive::material).filter(m -> m >= 0).forEach(used::add);
        if (used.isEmpty()) {
            return;
        }
        xml.begin("bind_material").begin("technique_common");
        for (int m : used) {
            xml.begin("instance_material", "symbol", "material-" + m, "target", "#material-" + m);
            if (picture(asset.materials().get(m)) >= 0) {
                xml.empty("bind_vertex_input", "semantic", "UV0", "input_semantic", "TEXCOORD", "input_set", "0");
            }
            xml.end();
        }
        xml.end().end();
    }
}
